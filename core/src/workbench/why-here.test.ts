import type { NamedStretch } from './work-ahead.ts';
import { sayMinutes } from './say-minutes.ts';
import { formatMoney } from './money.ts';
import { whyHere, type PlacedJob } from './why-here.ts';

const step = (over: Partial<NamedStretch> = {}): NamedStretch => ({
  work: 'test',
  name: 'Measure it',
  minutes: 10,
  place: 'opened',
  depth: 3,
  uses: [],
  wait: 0,
  waitUses: [],
  ...over,
});
type Over = Partial<PlacedJob['task']> & { job?: Partial<PlacedJob> };
const placed = ({ job, ...task }: Over = {}): PlacedJob => ({
  task: { id: 1, release: 0, value: 60, due: null, heldBy: null, rank: null, stretches: [step()], ...task },
  start: 0,
  done: 60,
  isHazard: false,
  isVain: false,
  waited: null,
  expected: 42,
  holder: null,
  ...job,
});

test.each([
  [{ job: { isHazard: true }, rank: 0 }, 'Swollen battery: make it safe'],
  [{ rank: 0, job: { holder: 'Ada' } }, 'Moved here by hand'],
  [{ job: { holder: 'Ada' } }, 'Ada is working on it'],
  [{ job: { isVain: true } }, 'Tell the customer now'],
  [{ due: -1500 }, 'Overdue by 1 day; 10 min of work left'],
  [{ due: 50 }, 'Will be late: due in 50 min'],
  [{ due: 90 }, 'Due in 1.5 h, 10 min of work left'],
  [{ job: { waited: 'dries' } }, 'Ready again: dries'],
  [{ stretches: [step({ wait: 240 })] }, 'its wait of 4 h runs while you do other jobs'],
  [{}, 'Expected 42 € for 10 min: best value now'],
] as [Over, string][])('%j: %s', (over, says) => {
  expect(whyHere(placed(over), null, [placed({ value: 20 })])).toContain(says);
});

test('the same place as the one before, where others bring more for their time', () => {
  const better = placed({ value: 500 });
  expect(whyHere(placed(), placed(), [better])).toBe('Same place as the job before it: at the opened device.');
  const elsewhere = placed({ stretches: [step({ place: 'outside' })] });
  expect(whyHere(placed(), elsewhere, [better])).toBe('Expected 42 € for 10 min of work.');
});

test('spans and amounts as they are said', () => {
  expect([0, 0.4, 59, 60, 90, 1440, 2000, 4320].map(sayMinutes)).toEqual([
    '0 min',
    // Less than a minute of work is no work of nothing.
    '1 min',
    '59 min',
    '1 h',
    '1.5 h',
    '1 day',
    '1.4 days',
    '3 days',
  ]);
  expect([61.6, -3.2, -0.2].map(formatMoney)).toEqual(['62 €', '−3 €', '0 €']);
});
