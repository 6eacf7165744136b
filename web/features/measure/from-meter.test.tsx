import { screen, waitFor } from '@testing-library/react';
import { parseReading } from '@umbral/core/typed-reading';
import { show } from '@/testing/show';
import { FromMeter } from './from-meter';

const states: object[] = [];
jest.mock('@/ui/kit/use-recorder', () => ({ useRecorder: () => ({ states }) }));

const meter = (reading: object | null) => ({ key: 'dmm', name: 'Hand meter', kind: 'multimeter', why: '', reading });
const takes = jest.fn();

beforeEach(() => {
  states.length = 0;
  takes.mockReset();
  localStorage.clear();
});

test('a bench without a multimeter shows nothing', () => {
  const { container } = show(<FromMeter isEmpty onTake={takes} />);
  expect(container.textContent).toBe('');
});

test.each([
  [{ mode: 'voltage', value: 1.795, ol: false }, '1.795 V', { mode: 'voltage', value: 1.795 }],
  [{ mode: 'diode', value: 0.412, ol: false }, 'd 0.412 V', { mode: 'diode', value: 0.412 }],
  [{ mode: 'diode', value: null, ol: true }, 'd OL', { mode: 'diode', ol: true }],
  [{ mode: 'resistance', value: 4700, ol: false }, 'r 4700 ohm', { mode: 'resistance', value: 4700 }],
  [{ mode: 'resistance', value: null, ol: true }, 'r OL', { mode: 'resistance', ol: true }],
  [{ mode: 'continuity', value: 2.1, ol: false, beeps: true }, 'beep', { mode: 'resistance', says: 'beep' }],
  [{ mode: 'continuity', value: null, ol: true }, 'no beep', { mode: 'resistance', says: 'no-beep' }],
])('%j is typed as %s, which is read as what was measured', async (shown, text, reading) => {
  states.push(meter({ ...shown, isStable: true }));
  const { person } = show(<FromMeter isEmpty onTake={takes} />);
  await person.click(screen.getByRole('button', { name: /^Take/ }));
  expect(takes).toHaveBeenCalledWith(text);
  expect(parseReading(text, { mode: 'voltage', leadsOhm: null, nominalV: null })).toMatchObject({ ok: true, reading });
});

test('a steady value is taken at once where that was asked for, once, and never what was typed over', async () => {
  states.push(meter({ mode: 'voltage', value: 3.3, ol: false, isStable: true }));
  const { person, rerender } = show(<FromMeter isEmpty onTake={takes} />);
  expect(takes).not.toHaveBeenCalled();
  await person.click(screen.getByRole('checkbox', { name: /steady value/ }));
  await waitFor(() => expect(takes).toHaveBeenCalledTimes(1));
  rerender(<FromMeter isEmpty={false} onTake={takes} />);
  rerender(<FromMeter isEmpty onTake={takes} />);
  expect(takes).toHaveBeenCalledTimes(1);
  states[0] = meter({ mode: 'voltage', value: 1.8, ol: false, isStable: false });
  rerender(<FromMeter isEmpty onTake={takes} />);
  expect(takes).toHaveBeenCalledTimes(1);
  states[0] = meter({ mode: 'voltage', value: 1.8, ol: false, isStable: true });
  rerender(<FromMeter isEmpty={false} onTake={takes} />);
  expect(takes).toHaveBeenCalledTimes(1);
  rerender(<FromMeter isEmpty onTake={takes} />);
  await waitFor(() => expect(takes).toHaveBeenLastCalledWith('1.8 V'));
});

test('probes in the air are not taken by themselves, and a silent meter says why', async () => {
  states.push(meter({ mode: 'voltage', value: 0.001, ol: false, isStable: true }));
  const { person, rerender } = show(<FromMeter isEmpty onTake={takes} />);
  await person.click(screen.getByRole('checkbox', { name: /steady value/ }));
  expect(takes).not.toHaveBeenCalled();
  states[0] = { ...meter(null), why: '/dev/ttyX0: the port disappeared' };
  rerender(<FromMeter isEmpty onTake={takes} />);
  expect(screen.getByRole('status').textContent).toContain('the port disappeared');
});
