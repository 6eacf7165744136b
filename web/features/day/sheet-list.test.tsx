import { screen, waitFor, within } from '@testing-library/react';
import type { Bench, BenchJob } from './queries';
import type { RunSheet, SheetEntry } from '@/server/work/day/sheet';
import { kept, show } from '@/testing/show';
import { waitOver } from '@/features/waits/actions';
import { pin, putJobDown, snooze, take } from './actions';
import { SheetList } from './sheet-list';
import { WaitsPanel } from './waits-panel';

jest.mock('./actions', () => ({
  pin: jest.fn(),
  priceOf: jest.fn(),
  putJobDown: jest.fn(),
  snooze: jest.fn(),
  take: jest.fn(),
}));
jest.mock('@/features/waits/actions', () => ({ waitOver: jest.fn() }));

const job = (id: number, over: Partial<BenchJob> = {}): BenchJob => ({
  id,
  label: `unit ${id}`,
  deviceClass: 'phone',
  complaint: 'dead',
  stage: 'call',
  dueOn: null,
  promisedAt: null,
  isOverdue: false,
  isHazard: false,
  call: null,
  pattern: null,
  silhouette: '',
  ...over,
});
const entry = (jobId: number, over: Partial<SheetEntry> = {}): SheetEntry => ({
  jobId,
  next: { work: 'test', name: 'Measure it', minutes: 4, place: 'opened', depth: 3, uses: [], wait: 0, waitUses: [] },
  minutes: 60,
  value: 50,
  success: 0.6,
  why: '50 € expected for 1 h of work.',
  isVain: false,
  isPinned: false,
  isReady: true,
  holder: null,
  startAt: null,
  doneAt: null,
  isLate: false,
  ...over,
});
const sheet = (over: Partial<RunSheet> = {}): RunSheet => ({
  madeAt: '2026-11-27T10:00:00Z',
  entries: [entry(1), entry(2)],
  lacking: [],
  snoozed: [],
  waits: [],
  cost: 10,
  bound: 8,
  isBest: false,
  late: 0,
  pinsCost: 0,
  opensAt: null,
  ...over,
});
const bench: Bench = {
  jobs: [job(1), job(2), job(3)],
  recalls: [],
  closed: 0,
  trashed: 0,
  sampleYear: null,
  firstSteps: null,
};
const list = (over: Partial<RunSheet> = {}, filter: 'all' | 'short' | 'wet' = 'all') =>
  show(<SheetList bench={bench} sheet={sheet(over)} filter={filter} personId={7} />);

beforeEach(() => {
  for (const action of [pin, putJobDown, snooze, take, waitOver])
    jest.mocked(action).mockResolvedValue(kept(undefined));
});

test('a line says what comes next, where and how long, and why it stands here', () => {
  list();
  const [first] = screen.getAllByRole('listitem');
  expect(first.textContent).toContain('unit 1');
  expect(first.textContent).toContain('Measure it · 4 min, at the opened device');
  expect(first.textContent).toContain('50 € expected for 1 h of work.');
});

test('a job is taken in hand and put down; what another one has cannot be taken', async () => {
  const { person } = list({
    entries: [
      entry(1),
      entry(2, { holder: { id: 7, name: 'Me' } }),
      entry(3, { holder: { id: 9, name: 'Ada Quill' } }),
    ],
  });
  await person.click(screen.getByRole('button', { name: 'Take unit 1 in hand' }));
  await waitFor(() => expect(take).toHaveBeenCalledWith({ jobId: 1, kind: 'test' }));
  await person.click(screen.getByRole('button', { name: 'Put unit 2 down' }));
  await waitFor(() => expect(putJobDown).toHaveBeenCalledWith(2));
  screen.getByText('Ada Quill');
  expect(screen.queryByRole('button', { name: /unit 3 in hand/ })).toBeNull();
});

test('what was put first goes back where it fits, with what it costs', async () => {
  const { person } = list({ entries: [entry(2, { isPinned: true }), entry(1)], pinsCost: 12.4 });
  screen.getByText(/1 moved by hand, which costs 12 €/);
  await person.click(screen.getByRole('button', { name: 'Use the recommended order' }));
  await waitFor(() => expect(pin).toHaveBeenCalledWith({ jobs: [] }));
});

test('a filter that nothing fits says so; what waits is not among what can be done', () => {
  const long = { ...entry(1).next, minutes: 40 };
  list({ entries: [entry(1, { next: long }), entry(2, { isReady: false })] }, 'short');
  screen.getByText('No job matches. Show everything.');
  expect(screen.queryByText('unit 2')).toBeNull();
});

test('what this bench lacks, and what is put off, with the way back', async () => {
  const { person } = list({
    entries: [entry(1)],
    lacking: [{ jobId: 2, says: 'Needs the preheater, which this bench does not have.' }],
    snoozed: [{ jobId: 3, until: '2026-11-28T06:00:00Z' }],
  });
  expect(screen.getByRole('list', { name: 'Cannot be done here' }).textContent).toContain('unit 2 Needs the preheater');
  await person.click(
    within(screen.getByRole('list', { name: 'Postponed' })).getByRole('button', { name: 'Resume now' }),
  );
  await waitFor(() => expect(snooze).toHaveBeenCalledWith({ jobId: 3, until: null }));
});

test('waits count down by the server’s clock; what is over says what to do', async () => {
  const wait = (id: number, until: string | null) =>
    ({
      id,
      jobId: id,
      label: `unit ${id}`,
      kind: 'bath',
      words: '',
      since: '2026-11-27T09:00:00Z',
      until,
      heard: false,
    }) as const;
  const waits = [
    wait(1, '2026-11-27T09:57:00Z'),
    wait(2, '2026-11-27T10:04:09Z'),
    { ...wait(3, null), kind: 'answer' as const },
  ];
  const { person } = show(<WaitsPanel sheet={sheet({ waits: [...waits] })} />);
  const [over, runs, open] = screen.getAllByRole('listitem');
  expect(over.textContent).toContain('over for 3 min');
  expect(over.textContent).toContain('out of the bath,');
  expect(runs.textContent).toContain('4:09');
  expect(open.textContent).toContain("waiting for the customer's answer");
  await person.click(within(open).getByRole('button', { name: 'unit 3: it arrived' }));
  await waitFor(() => expect(waitOver).toHaveBeenCalledWith(3, 3));
});
