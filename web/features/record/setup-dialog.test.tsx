import { screen, waitFor } from '@testing-library/react';
import { saveSetup } from '@/features/job/actions';
import type { JobView, RunView } from '@/features/job/view';
import { kept, refused, show } from '@/testing/show';
import { SetupDialog } from './setup-dialog';
import { setupFormOf } from './setup-form';

jest.mock('@/features/job/actions', () => ({ saveSetup: jest.fn() }));

const runView = (version = 2): RunView =>
  ({
    id: 31,
    version,
    run: {
      id: 'r2',
      feed: 'usb-c',
      setup: { port: 1, battery: 'disconnected', unplugged: ['camera'] },
      instrument: { kind: 'usb-c-meter', resolutionA: 0.001 },
      contract: { kind: 'pd', volts: 20, amps: 3 },
      after: 'a1',
    },
  }) as unknown as RunView;
const view = { actions: [{ key: 'a1', words: 'Coil removed' }] } as unknown as JobView;
const save = saveSetup as jest.Mock;
const close = jest.fn();

beforeEach(() => jest.clearAllMocks());

test('shows how the run was made, and keeps what is corrected', async () => {
  save.mockResolvedValue(kept(undefined));
  const { person } = show(<SetupDialog view={view} chosen={runView()} onClose={close} />);
  expect(screen.getByLabelText('Contract voltage')).toHaveProperty('value', '20 V');
  await person.selectOptions(screen.getByLabelText('Follows'), 'no change made');
  await person.selectOptions(screen.getByLabelText('Battery'), 'battery in');
  await person.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(close).toHaveBeenCalled());
  const [{ runId, version, setup }] = save.mock.calls[0];
  expect({ runId, version }).toEqual({ runId: 31, version: 2 });
  expect(setup).toMatchObject({
    feed: 'usb-c',
    port: 1,
    battery: 'connected',
    unplugged: ['camera'],
    contract: 'pd',
    contractV: '20 V',
    contractA: '3 A',
    instrument: 'usb-c-meter',
    resolutionA: '1 mA',
    after: null,
  });
});

test('what somebody else saved meanwhile is not overwritten unseen', async () => {
  save.mockResolvedValue(refused('Someone else has saved this in the meantime.'));
  const { person, rerender } = show(<SetupDialog view={view} chosen={runView(2)} onClose={close} />);
  await person.clear(screen.getByLabelText('Port'));
  await person.type(screen.getByLabelText('Port'), '3');
  rerender(<SetupDialog view={view} chosen={runView(3)} onClose={close} />);
  await person.click(screen.getByRole('button', { name: 'Save' }));
  expect((await screen.findByRole('alert')).textContent).toMatch(/Someone else/);
  expect(save.mock.calls[0][0]).toMatchObject({ version: 2, setup: { port: 3, after: 'a1' } });
  expect(screen.getByLabelText('Port')).toHaveProperty('value', '3');
  expect(close).not.toHaveBeenCalled();
});

test('the last run says how the next is made, but for what holds once', () => {
  const next = setupFormOf(runView());
  expect(next).toMatchObject({ feed: 'usb-c', port: 1, battery: 'disconnected', resolutionA: '1 mA', contract: null });
  expect(next.after).toBeUndefined();
  const byEye = runView();
  byEye.run.instrument = { ...byEye.run.instrument, kind: 'eye', resolutionA: 0.01 };
  expect(setupFormOf(byEye)).toMatchObject({ instrument: null, resolutionA: '' });
});
