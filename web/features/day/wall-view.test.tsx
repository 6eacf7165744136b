import { screen, within } from '@testing-library/react';
import type { Bench, BenchJob } from './queries';
import type { RunSheet, SheetEntry } from '@/server/work/day/sheet';
import type { RunningWait } from '@/server/work/entries/waits';
import { show } from '@/testing/show';
import { WallView } from './wall-view';

const next: SheetEntry['next'] = {
  work: 'test',
  name: 'Measure it',
  minutes: 4,
  place: 'opened',
  depth: 3,
  uses: [],
  wait: 0,
  waitUses: [],
};
const entry = (jobId: number, over: Partial<SheetEntry> = {}): SheetEntry => ({
  jobId,
  next,
  minutes: 60,
  value: 50,
  success: 0.6,
  why: '',
  isVain: false,
  isPinned: false,
  isReady: true,
  holder: null,
  startAt: null,
  doneAt: null,
  isLate: false,
  ...over,
});
const wait = (id: number, over: Partial<RunningWait> = {}): RunningWait => ({
  id,
  jobId: id,
  label: `unit ${id}`,
  kind: 'bath',
  words: '',
  since: '2026-11-27T09:00:00Z',
  until: '2026-11-27T10:04:09Z',
  heard: false,
  ...over,
});
const view = (entries: SheetEntry[], waits: RunningWait[] = []) => {
  const jobs = [1, 2, 3, 4, 5, 6, 7, 8].map((id) => ({ id, label: `unit ${id}` }) as BenchJob);
  const bench: Bench = { jobs, recalls: [], closed: 0, trashed: 0, sampleYear: null, firstSteps: null };
  const sheet = { madeAt: '2026-11-27T10:00:00Z', entries, waits } as unknown as RunSheet;
  show(<WallView bench={bench} sheet={sheet} />);
  const part = (name: string): string => screen.getByRole('region', { name }).textContent ?? '';
  return { now: part('Now'), out: part('Waits ending'), somebody: part('Waiting on others') };
};

test('what to do first, what comes after it, and how many more', () => {
  const { now } = view([1, 2, 3, 4, 5, 6, 7].map((id) => entry(id)));
  expect(now).toMatch(/unit 1.*Measure it.*4 min, at the opened device/);
  expect(now).toContain('and 1 more');
  expect(within(screen.getByRole('region', { name: 'Now' })).getAllByRole('listitem')).toHaveLength(5);
});

test('what runs out by itself, and who is waited for, also where a day was thought of', () => {
  const { out, somebody } = view(
    [],
    [
      wait(1),
      wait(2, { until: '2026-11-27T09:57:00Z' }),
      wait(3, { kind: 'answer', until: '2026-11-29T10:00:00Z' }),
      wait(4, { kind: 'part', until: null }),
    ],
  );
  expect(out).toContain('4:09');
  expect(out).toContain('over for 3 min');
  expect(somebody).toMatch(/unit 3.*waiting for the customer's answer.*unit 4.*waiting for a part/);
  expect(out).not.toContain('unit 3');
});

test('an empty bench says so in every part', () => {
  expect(view([entry(1, { isReady: false })])).toEqual({
    now: 'NowNothing can be done now.',
    out: 'Waits endingNone.',
    somebody: 'Waiting on othersNone.',
  });
});
