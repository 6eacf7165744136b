import { assess } from '../diagnosis/index.ts';
import vocabulary from '../hypotheses/vocabulary.json';
import { readingOf, typedCase } from '../testing/cases.ts';
import { sayEvidence, sayLeftOut, sayReason } from './index.ts';
import type { Reason } from './reason.ts';

const level = (run: string, amps: number): { run: string; amps: number; volts: null; resolutionA: number } => ({
  run,
  amps,
  volts: null,
  resolutionA: 0.001,
});
const held = { moved: 'recovers', before: level('r1', 0.07), now: level('r2', 0.4) } as const;

test.each<[Reason, string]>([
  [{ id: 'complaint', values: { kind: 'drain' } }, 'The complaint is “drains” (not verified yet)'],
  [{ id: 'remark', values: { remark: 'fall' } }, 'The customer said: it fell'],
  [
    {
      id: 'run',
      values: { run: 'r1', pattern: 'restart-loop', p: 0.92, beforeA: null, resolutionA: 0.001, periodS: 2 },
    },
    'Run r1: “Boot loop” (92 %, every 2.0 s)',
  ],
  [
    {
      id: 'compared',
      values: {
        ...held,
        without: [
          { slot: 'part:lid flex', is: 'none' },
          { slot: 'pack', is: 'good' },
        ],
      },
    },
    'Run r2 against r1: with lid flex unplugged and another battery in it, it recovers (run r1 70 mA, run r2 400 mA)',
  ],
  [
    { id: 'check', values: { id: 'fan', outcome: 'twitches-once', where: '', circuits: [] } },
    'Watch the fan: twitches once',
  ],
  [{ id: 'halves', values: { main: 'starts', other: null } }, 'Boards split: the main half starts on its own'],
  [
    { id: 'past-cases', values: { cases: 1, ofModel: 0, closest: ['job 7'] } },
    'Past cases: 1 similar case, none of this model; closest: job 7',
  ],
])('%j', (reason, said) => expect(sayReason(reason)).toBe(said));

test('every remark of the vocabulary has its words', () => {
  for (const { id } of vocabulary.remarks)
    expect(sayReason({ id: 'remark', values: { remark: id } })).not.toBe(`The customer said: ${id}`);
});

test('what does not count says what it is and why', () => {
  const reason: Reason = { id: 'check', values: { id: 'fan', outcome: null, where: '', circuits: [] } };
  expect(sayLeftOut({ reason, why: { id: 'no-result', values: {} } })).toBe(
    'Watch the fan: no answer: no result was entered',
  );
});

test('a sentence that an older engine stored is shown as it was', () => {
  expect(sayEvidence({ item: 'run r1: as it was said then', for: 3 })).toBe('run r1: as it was said then');
});

test('the same point three times is one reason with the weight of all three', () => {
  const { value, shapes } = typedCase('phone', ['battery 4V: 0.07 hold']);
  const readings = Array.from({ length: 3 }, () =>
    readingOf({ mode: 'resistance', value: 0.6, where: 'C12', circuit: 'rail.main' }),
  );
  const weightOf = (n: number): { times: number; for: number; words: string } => {
    const of = assess({ ...value, readings: readings.slice(0, n) }, shapes).circuits.find((c) => c.id === 'rail.main');
    const found = (of?.evidence ?? []).filter((e) => 'reason' in e && e.reason.id === 'reading');
    expect(found).toHaveLength(1);
    const [e] = found;
    return { times: 'times' in e ? e.times : 0, for: e.for, words: sayEvidence(e) };
  };
  expect(weightOf(1)).toMatchObject({ times: 1, words: 'C12: 0.60 ohm, short to ground' });
  expect(weightOf(3)).toMatchObject({ times: 3, words: 'C12: 0.60 ohm, short to ground, seen 3 times' });
  expect(weightOf(3).for).toBeGreaterThanOrEqual(weightOf(1).for);
});
