import { screen } from '@testing-library/react';
import type { StationState } from '@umbral/instruments';
import { show } from '@/testing/show';
import { Controls, NotYetRuns, OutputBanner } from './controls';

const station = (more: Partial<StationState> = {}): StationState => ({
  key: 'supply',
  name: 'the supply',
  kind: 'supply',
  simulated: true,
  isSeen: false,
  health: 'measuring',
  why: '',
  volts: 3.8,
  amps: 0,
  shown: null,
  resolutionV: 0.01,
  resolutionA: 0.001,
  mode: 'off',
  rateHz: 20,
  armed: null,
  outputOn: false,
  outputUnknown: false,
  canWatchItself: false,
  atPage: null,
  reading: null,
  recording: null,
  ended: null,
  ...more,
});
const watchesItself = { overV: null, overA: null, silentS: null };
const armed = { id: 'one', volts: 3.8, limitA: 2, clamped: '', jobId: 7, person: null, watchesItself };
const recording = { id: 3, jobId: 7, startedAt: '', rows: 1200, seconds: 61.4, stopAfterS: 90, problem: null };
const on = { record: jest.fn(), arm: jest.fn(), output: jest.fn(), press: jest.fn() };
const controls = (of: StationState, { isMine = false, ours = [] as StationState[], isKeeping = false } = {}) =>
  show(<Controls station={of} recording={of.recording} takes={{ ours, isKeeping }} isMine={isMine} on={on} />);
const isOff = (name: RegExp): boolean => screen.getByRole('button', { name }).getAttribute('aria-disabled') === 'true';

beforeEach(() => jest.clearAllMocks());

test('nothing is switched on that was not armed from here', async () => {
  const { person, unmount } = controls(station());
  expect(isOff(/^On/)).toBe(true);
  await person.click(screen.getByRole('button', { name: /^Arm/ }));
  expect(on.arm).toHaveBeenCalledTimes(1);
  unmount();
  const elsewhere = controls(station({ armed: { ...armed, id: 'another' } }));
  expect(isOff(/^On/)).toBe(true);
  elsewhere.unmount();
  const { person: again } = controls(station({ armed }), { isMine: true });
  await again.click(screen.getByRole('button', { name: /^On/ }));
  expect(on.output).toHaveBeenCalledTimes(1);
});

test('an output that is on is switched off by anybody, and not armed anew meanwhile', () => {
  controls(station({ outputOn: true, armed: { ...armed, id: 'another' } }));
  expect(isOff(/^Off/)).toBe(false);
  expect(isOff(/^Arm/)).toBe(true);
});

test('nothing is armed or switched on while nobody knows what the output does', () => {
  const lost = station({ outputOn: null, outputUnknown: true, health: 'lost' });
  controls(lost, { isMine: true });
  expect([isOff(/^Arm/), isOff(/^On/)]).toEqual([true, true]);
});

test('a meter has no output', () => {
  controls(station({ kind: 'meter' }));
  expect(screen.queryByRole('button', { name: /^Arm|^On/ })).toBeNull();
});

test('a press is marked only while something records; what was recorded is said', () => {
  const { unmount } = controls(station());
  expect(isOff(/Power pressed/)).toBe(true);
  expect(screen.getByRole('status').textContent).toBe('not recording');
  unmount();
  const busy = station({ recording });
  controls(busy, { ours: [busy, station({ key: 'meter' })] });
  expect(isOff(/Power pressed/)).toBe(false);
  expect(screen.getByRole('button', { name: /^Stop and save/ })).toBeTruthy();
  expect(screen.getByRole('status').textContent).toBe('recording, 61 s, 1,200 samples, stops at 90 s, 2 instruments');
});

test('an instrument that was lost records nothing new', () => {
  controls(station({ health: 'lost' }));
  expect(isOff(/^Record/)).toBe(true);
});

test('what the output gives stands there for as long as it is on, with the way to switch it off', async () => {
  const off = jest.fn();
  const { unmount } = show(<OutputBanner station={station({ armed })} onOff={off} />);
  expect(screen.queryByRole('status')).toBeNull();
  unmount();
  const { person } = show(<OutputBanner station={station({ armed, outputOn: true })} onOff={off} />);
  expect(screen.getByRole('status').textContent).toContain('3.80 V, at most 2.00 A');
  expect(screen.getByRole('status').textContent).toContain('Escape switches it off');
  await person.click(screen.getByRole('button', { name: 'Off' }));
  expect(off).toHaveBeenCalledTimes(1);
});

test('a recording that is no run yet is kept by name', async () => {
  const keepAll = jest.fn().mockResolvedValue(undefined);
  const { person } = show(
    <NotYetRuns left={[{ id: 9, says: 'the meter, 12 s' }]} takes={{ isKeeping: false, keepAll }} />,
  );
  await person.click(screen.getByRole('button', { name: 'Keep' }));
  expect(keepAll).toHaveBeenCalledWith([9]);
});
