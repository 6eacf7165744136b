import { screen, waitFor } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import { keepProof, startTimer, takeBack } from './actions';
import type { Step } from './step-forms';
import { StepRow } from './step-row';
import type { VerifyView } from './view';

jest.mock('./actions', () => ({ keepProof: jest.fn(), startTimer: jest.fn(), takeBack: jest.fn() }));
const push = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ push }) }));
const keep = keepProof as jest.MockedFunction<typeof keepProof>;

const step = (more: Partial<Step> = {}): Step =>
  ({
    protocol: 'functions',
    id: 'screen',
    by: 'person',
    says: 'The screen shows a picture',
    run: null,
    at: null,
    waitMinutes: null,
    check: null,
    result: null,
    because: '',
    shownBy: null,
    isSaid: false,
    ...more,
  }) as Step;

const view = (more: Partial<VerifyView> = {}): VerifyView =>
  ({
    jobId: 7,
    version: 1,
    title: 'Job 0007',
    isClosed: false,
    now: [],
    proof: null,
    proposal: null,
    timers: [],
    runs: [],
    hazards: [],
    ...more,
  }) as VerifyView;

const of = { jobId: 7, protocol: 'functions', step: 'screen' };
const list = (one: Step, of: VerifyView, isMarked = true) =>
  show(
    <ul>
      <StepRow view={of} step={one} isMarked={isMarked} />
    </ul>,
  );

beforeEach(() => {
  keep.mockReset().mockResolvedValue(kept(1) as never);
  push.mockReset();
});

test('the selected step passes by its key, and can be taken back at once', async () => {
  (takeBack as jest.Mock).mockResolvedValue(kept(1));
  const { person } = list(step(), view());
  await person.keyboard('y');
  await screen.findByText('The screen shows a picture: saved.');
  expect(keep).toHaveBeenCalledWith({ ...of, result: 'pass' });
  await person.click(screen.getByRole('button', { name: 'Undo' }));
  expect(takeBack).toHaveBeenCalledWith(of);
});

test('a step that is not marked takes no keys', async () => {
  const { person } = list(step(), view(), false);
  await person.keyboard('y');
  expect(keep).not.toHaveBeenCalled();
});

test.each([
  ['f', 'fail', 'What was seen'],
  ['d', 'not-done', 'Reason'],
])('%s asks before it says so: a reason goes with it', async (key, result, asks) => {
  const { person } = list(step(), view());
  await person.keyboard(key);
  await person.type(screen.getByRole('textbox', { name: asks }), 'no light at all{Enter}');
  expect(keep).toHaveBeenCalledWith({ ...of, result, reason: 'no light at all' });
  await waitFor(() => expect(screen.queryByRole('textbox', { name: asks })).toBeNull());
});

test('what could not be kept is said beside the step, and the reason stays to be saved again', async () => {
  keep.mockResolvedValue(refused('Somebody else closed the job.') as never);
  const { person } = list(step(), view());
  await person.keyboard('f');
  await person.type(screen.getByRole('textbox', { name: 'What was seen' }), 'dark{Enter}');
  expect((await screen.findByRole('alert')).textContent).toBe('Somebody else closed the job.');
  expect(screen.getByRole('textbox', { name: 'What was seen' })).toHaveProperty('value', 'dark');
});

test('a step that a run shows cannot be said to hold: a run that fits it is taken, or one is typed', async () => {
  const runs: VerifyView['runs'] = [
    { key: 'r4', title: 'r4: USB-C', feed: 'usb-c', port: 1, flipped: false },
    { key: 'r5', title: 'r5: USB-C flipped', feed: 'usb-c', port: 1, flipped: true },
    { key: 'r3', title: 'r3: bench supply', feed: 'battery', port: 1, flipped: false },
  ];
  const one = step({ by: 'run', run: { feeds: ['usb-c'] } as Step['run'], at: { port: 1, flipped: true } });
  const { person } = list(one, view({ runs }));
  expect(screen.queryByRole('button', { name: /Passes/ })).toBeNull();
  await person.keyboard('y');
  expect(keep).not.toHaveBeenCalled();
  expect(screen.getAllByRole('button', { name: /^Use run/ }).map((b) => b.textContent)).toEqual([
    'Use run r5: USB-C flipped',
  ]);
  await person.click(screen.getByRole('button', { name: /^Use run/ }));
  expect(keep).toHaveBeenCalledWith({ ...of, run: 'r5' });
  await person.keyboard('r');
  expect(push).toHaveBeenCalledWith('/jobs/7?add=run');
});

test('a rise of the voltage is kept as it was measured', async () => {
  const { person } = list(step({ by: 'rise' }), view());
  await person.type(screen.getByRole('textbox', { name: 'From' }), '3.71 V');
  await person.type(screen.getByRole('textbox', { name: 'to' }), '3.84 V');
  await person.type(screen.getByRole('textbox', { name: /^in/ }), '15{Enter}');
  expect(keep).toHaveBeenCalledWith({ ...of, fromV: '3.71 V', toV: '3.84 V', minutes: 15 });
});

test('a soak starts its time once', async () => {
  (startTimer as jest.Mock).mockResolvedValue(kept(1));
  const soak = step({ by: 'timer', waitMinutes: 120 });
  const { person, unmount } = list(soak, view());
  await person.click(screen.getByRole('button', { name: 'Start the timer' }));
  expect(startTimer).toHaveBeenCalledWith(of);
  unmount();
  const at = new Date().toISOString();
  list(soak, view({ timers: [{ protocol: 'functions', step: 'screen', startedAt: at, dueAt: at }] }));
  expect(screen.queryByRole('button', { name: 'Start the timer' })).toBeNull();
});

test('what was said is taken back; a closed job takes nothing', async () => {
  const said = step({ result: 'pass', because: 'seen', isSaid: true });
  const { person, unmount } = list(said, view());
  expect(screen.getByText(/passed: seen/)).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Undo' }));
  expect(takeBack).toHaveBeenLastCalledWith(of);
  unmount();
  list(step(), view({ isClosed: true }));
  expect(screen.queryAllByRole('button')).toEqual([]);
});
