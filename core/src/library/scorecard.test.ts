import fc from 'fast-check';
import { circuitIds, outcomeGrades, patternIds, type CircuitId } from '../catalogue/index.ts';
import {
  activeMinutes,
  addUp,
  countsOf,
  groupKeys,
  inOrderOf,
  logScoreOf,
  scorecardOf,
  type FrozenCall,
  type Scorecard,
} from './scorecard.ts';
import { wilsonInterval } from './wilson.ts';

const call = (over: Partial<FrozenCall> = {}): FrozenCall => ({
  job: 1,
  circuits: [
    { id: 'rail.run', p: 0.6, element: 'second coil' },
    { id: 'pmic', p: 0.3, element: null },
    { id: 'core.soc', p: 0.1, element: null },
  ],
  grade: 'measured',
  circuit: 'rail.run',
  element: '',
  pattern: 'stall-low',
  deviceClass: 'phone',
  model: 'm',
  technician: 'bench',
  month: '2026-03',
  engine: 'e',
  patternAlone: null,
  minutesToCall: null,
  minutesToCause: null,
  probes: 0,
  ...over,
});

describe('Wilson interval', () => {
  test('worked example: 8 of 10', () => {
    const { low, high } = wilsonInterval(8, 10);
    expect(low).toBeCloseTo(0.4902, 3);
    expect(high).toBeCloseTo(0.9433, 3);
  });
  test('holds the share, lies in 0 to 1, and narrows with numbers', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 500 }), fc.double({ min: 0, max: 1, noNaN: true }), (of, part) => {
        const hits = Math.round(part * of);
        const { share, low, high } = wilsonInterval(hits, of);
        expect(low).toBeGreaterThanOrEqual(0);
        expect(high).toBeLessThanOrEqual(1);
        expect(low).toBeLessThanOrEqual(share + 1e-12);
        expect(high).toBeGreaterThanOrEqual(share - 1e-12);
        const more = wilsonInterval(4 * hits, 4 * of);
        expect(more.high - more.low).toBeLessThan(high - low + 1e-12);
      }),
    );
  });
});

const cardOf = (calls: readonly FrozenCall[]): Scorecard => scorecardOf(addUp(calls));
const jobsOf = (calls: readonly FrozenCall[], counted: string): number[] =>
  calls.filter((c) => countsOf(c).has(counted)).map((c) => c.job);

describe('scorecard', () => {
  test('worked example: one right, one second, one that nobody found', () => {
    const calls = [
      call({ job: 1 }),
      call({ job: 2, circuit: 'pmic' }),
      call({ job: 3, grade: 'not-found', circuit: null }),
    ];
    const card = cardOf(calls);
    expect(card.scored.value).toBe(2);
    expect(jobsOf(calls, card.scored.counted)).toEqual([1, 2]);
    expect(card.first.value).toMatchObject({ hits: 1, of: 2 });
    expect(jobsOf(calls, card.first.counted)).toEqual([1]);
    expect(card.firstThree.value.hits).toBe(2);
    expect(card.notFound.value).toMatchObject({ hits: 1, of: 3 });
    expect(card.logScore).toBeCloseTo((Math.log(0.6) + Math.log(0.3)) / 2, 9);
    expect(card.confusions).toMatchObject([{ was: 'pmic', said: 'rail.run', jobs: 1 }]);
    expect(jobsOf(calls, card.confusions[0].counted)).toEqual([2]);
    expect(card.said).toBeCloseTo(0.6, 9);
  });
  test('not found, gone by itself, declined and not economical are never hits', () => {
    const grades = ['not-found', 'disappeared', 'declined', 'not-economical'] as const;
    const card = cardOf(grades.map((grade, k) => call({ job: k, grade })));
    expect(card.first.value.of).toBe(0);
    expect(card.closed).toBe(4);
  });
  test('a job that nothing was ever called of is closed, and not scored', () => {
    expect(cardOf([call({ circuits: [] })])).toMatchObject({
      closed: 1,
      scored: { value: 0 },
      logScore: null,
      said: null,
    });
  });
  test('the part counts where the circuit was right and a part was named', () => {
    const calls = [
      call({ job: 1, element: 'the second coil' }),
      call({ job: 2, element: 'fuse' }),
      call({ job: 3, element: 'fuse', circuit: 'pmic' }),
      call({ job: 4 }),
    ];
    const card = cardOf(calls);
    expect(card.element.value).toMatchObject({ hits: 1, of: 2 });
    expect(jobsOf(calls, card.element.counted)).toEqual([1]);
  });
  const anyCall = fc.record({
    circuit: fc.constantFrom<CircuitId>('rail.run', 'pmic', 'display'),
    grade: fc.constantFrom(...outcomeGrades),
    month: fc.constantFrom('2026-02', '2026-01', '2025-12'),
    pattern: fc.constantFrom(...patternIds, null),
    minutesToCause: fc.option(fc.integer({ min: 0, max: 500 })),
    circuits: fc
      .tuple(fc.double({ min: 0.34, max: 1, noNaN: true }), fc.constantFrom<CircuitId>('rail.run', 'pmic'))
      .map(([p, id]) => [
        { id, p, element: null },
        { id: 'core.soc' as const, p: 1 - p, element: null },
      ]),
  });
  test('what two lists of calls add up to is what both come to, whatever they are told apart by', () => {
    fc.assert(
      fc.property(fc.array(anyCall, { maxLength: 30 }), (list) => {
        const calls = list.map((over, job) => call({ ...over, job }));
        const whole = addUp(calls);
        for (const group of ['pattern', 'month', 'technician'] as const) {
          const keys = [...new Set(calls.map((c) => groupKeys(c)[group]))];
          const parts = keys.map((key) => addUp(calls.filter((c) => groupKeys(c)[group] === key)));
          for (const [what, { n, sum }] of whole) {
            expect(parts.reduce((m, part) => m + (part.get(what)?.n ?? 0), 0)).toBe(n);
            expect(parts.reduce((m, part) => m + (part.get(what)?.sum ?? 0), 0)).toBeCloseTo(sum, 9);
          }
        }
        const { reliability, scored, first, confusions } = scorecardOf(whole);
        expect(reliability.reduce((sum, b) => sum + b.right.of, 0)).toBe(scored.value);
        expect(first.value.hits + confusions.reduce((sum, c) => sum + c.jobs, 0)).toBe(scored.value);
      }),
    );
  });
  test('months stand in their order, models with most scored calls first', () => {
    const cards = ['b', 'a', 'c'].map((key, k) => ({
      key,
      card: cardOf(Array.from({ length: k === 1 ? 1 : 2 }, () => call())),
    }));
    expect(inOrderOf('month', cards).map((c) => c.key)).toEqual(['a', 'b', 'c']);
    expect(inOrderOf('model', cards).map((c) => c.key)).toEqual(['b', 'c', 'a']);
  });
  test('a circuit that is not on the list got next to nothing, not minus infinity', () => {
    expect(Number.isFinite(logScoreOf({ circuits: call().circuits, circuit: 'display' }))).toBe(true);
  });
  test('base rates are those of the kind of device', () => {
    const card = cardOf([call()]);
    expect(card.baseRates).toBeLessThan(Math.log(2 / circuitIds.length));
  });
});

describe('minutes of work', () => {
  const at = (minutes: number): Date => new Date(Date.UTC(2026, 2, 3, 9, minutes));
  test('a night between two entries is a short break', () => {
    expect(activeMinutes([at(0), at(10), at(10 + 14 * 60), at(15 + 14 * 60)])).toBe(10 + 30 + 5);
  });
  test('does not depend on the order; one entry tells nothing', () => {
    expect(activeMinutes([at(9), at(0)])).toBe(9);
    expect(activeMinutes([at(1)])).toBeNull();
  });
});
