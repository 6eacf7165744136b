import fc from 'fast-check';
import { assess } from '../diagnosis/index.ts';
import { actionOf, checkOf, readingOf, typedCase } from '../testing/cases.ts';
import { countedCase, placeName, type Case } from './index.ts';

const line = 'battery 4V limit 3A: 0 | prompt 0.07 0.19 0.12 hold';
const base = (): ReturnType<typeof typedCase> => {
  const made = typedCase('phone', [line, line], {
    complaintKind: 'no-start',
    actions: [
      actionOf('a1', 'replace', { circuit: 'pmic', target: 'power chip' }),
      actionOf('a2', 'clean', { target: 'socket' }),
    ],
    readings: [
      readingOf({ mode: 'resistance', value: 900, where: 'C12', circuit: 'rail.run' }),
      readingOf({ mode: 'resistance', value: 800, where: 'C13', circuit: null, after: 'a1' }),
    ],
    checks: [checkOf('screen', 'dark'), checkOf('screen', 'dark', { after: 'a2' })],
  });
  made.value.runs[1].after = 'a2';
  return made;
};

/** Something that was entered and does not count: each is put anywhere into its list. */
const slips: fc.Arbitrary<(value: Case, at: number) => Case> = fc.constantFrom(
  (value: Case, at: number) => ({
    ...value,
    readings: value.readings.toSpliced(
      at % (value.readings.length + 1),
      0,
      readingOf({
        mode: 'resistance',
        value: 0.1,
        where: 'C12',
        circuit: 'rail.run',
        void: { why: 'wrong pad' },
        after: 'a1',
      }),
    ),
  }),
  (value: Case, at: number) => ({
    ...value,
    checks: value.checks.toSpliced(
      at % (value.checks.length + 1),
      0,
      checkOf('screen', 'image', { void: { why: 'wrong unit' } }),
    ),
  }),
  (value: Case, at: number) => ({
    ...value,
    runs: value.runs.toSpliced(at % (value.runs.length + 1), 0, {
      ...value.runs[0],
      id: `x${at}`,
      void: { why: 'bad plug' },
    }),
  }),
  (value: Case, at: number) => ({
    ...value,
    actions: value.actions.toSpliced(
      at % (value.actions.length + 1),
      0,
      actionOf(`p${at}`, 'replace', { circuit: 'radio', planned: true }),
    ),
  }),
  (value: Case, at: number) => ({
    ...value,
    actions: value.actions.toSpliced(
      at % (value.actions.length + 1),
      0,
      actionOf(`v${at}`, 'burn', { circuit: 'rail.main', void: { why: 'never done' } }),
    ),
  }),
);

test('a job with slips that were taken back is assessed like one that was entered right the first time', () => {
  const clean = base();
  const expected = assess(clean.value, clean.shapes);
  fc.assert(
    fc.property(fc.array(fc.tuple(slips, fc.nat(9)), { minLength: 1, maxLength: 4 }), (list) => {
      const { value, shapes } = base();
      const slipped = list.reduce((v, [slip, at], k) => slip(v, at + 10 * k), value);
      const found = assess(slipped, shapes);
      expect(found.circuits).toEqual(expected.circuits);
      expect(found.now).toEqual(expected.now);
      expect(found.state).toEqual(expected.state);
      expect(found.next).toEqual(expected.next);
    }),
    { numRuns: 25 },
  );
});

test('what followed a change that does not count follows the one before it', () => {
  const { value } = base();
  const gone = { ...value, actions: value.actions.map((a) => (a.id === 'a2' ? { ...a, planned: true as const } : a)) };
  const counted = countedCase(gone);
  expect(counted.actions.map((a) => a.id)).toEqual(['a1']);
  expect(counted.runs.map((r) => r.after)).toEqual([null, 'a1']);
  expect(counted.checks.map((c) => c.after)).toEqual([null, 'a1']);
});

test('entries of one state stand in the order of their times, and what has none keeps its place', () => {
  const at = (minute: number): string => `2026-11-30T10:${String(minute).padStart(2, '0')}:00Z`;
  const look = (outcome: string, minute?: number) =>
    checkOf('screen', outcome, minute === undefined ? {} : { at: at(minute) });
  const { value } = typedCase('phone', [line], { checks: [look('image', 5), look('dark'), look('logo', 3)] });
  expect(countedCase(value).checks.map((c) => c.outcome)).toEqual(['logo', 'dark', 'image']);
});

test('names that were said to be one place are one place everywhere', () => {
  const { value } = base();
  const same = { ...value, places: [{ where: 'C12', circuit: null, same: ['c13', 'C14'] }] };
  expect(countedCase(same).readings.map((r) => r.where)).toEqual(['C12', 'C12']);
  expect(placeName('  C12 ')).toBe('c12');
});
