import fc from 'fast-check';
import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import { seededRandom } from '../trace/index.ts';
import {
  beginner,
  chooseNext,
  circuitsOf,
  difficultyOf,
  expectedShare,
  isDue,
  pairKey,
  pairsAfter,
  practiceFigures,
  ratedAbility,
  readinessOf,
  reviewedCard,
  type CalledUnit,
} from './index.ts';

const minute = 60_000;
const now = new Date('2026-11-27T10:00:00Z');
const later = (minutes: number): Date => new Date(now.getTime() + minutes * minute);

describe('ability', () => {
  test('even odds where ability and difficulty are the same; ten times the odds at 400 more', () => {
    expect(expectedShare(beginner, 'pmic', beginner.general)).toBeCloseTo(0.5, 9);
    expect(expectedShare({ ...beginner, general: beginner.general + 400 }, 'pmic', beginner.general)).toBeCloseTo(
      10 / 11,
      9,
    );
  });

  test('better than expected raises it, worse lowers it, and never the other way round', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -150, max: 100, noNaN: true }),
        fc.integer({ min: 600, max: 1600 }),
        (points, difficulty) => {
          const after = ratedAbility(beginner, 'pmic', difficulty, points);
          const share = Math.min(1, Math.max(0, points / 100));
          const sign = Math.sign(share - expectedShare(beginner, 'pmic', difficulty));
          expect(Math.sign(after.general - beginner.general)).toBe(sign);
          expect(after.by.pmic?.calls).toBe(1);
        },
      ),
    );
  });

  test('it finds a steady player: the expected share comes to what is scored', () => {
    let ability = beginner;
    for (let k = 0; k < 120; k++) ability = ratedAbility(ability, 'pmic', 1100, k % 4 === 0 ? 0 : 100);
    expect(expectedShare(ability, 'pmic', 1100)).toBeGreaterThan(0.6);
    expect(expectedShare(ability, 'pmic', 1100)).toBeLessThan(0.9);
  });

  test('what the engine itself finds hard is harder', () => {
    expect(difficultyOf(20)).toBeGreaterThan(difficultyOf(90));
  });
});

describe('what is asked again', () => {
  test('a pair has one key, whichever was taken for the other', () => {
    expect(pairKey('pmic', 'button')).toBe(pairKey('button', 'pmic'));
    expect(circuitsOf(pairKey('pmic', 'button')).sort()).toEqual(['button', 'pmic']);
  });

  test('wrong comes again within minutes; right, later and later', () => {
    let review = reviewedCard(null, 'x', false, now);
    expect(isDue(review, now)).toBe(false);
    expect(isDue(review, later(30))).toBe(true);
    const gaps: number[] = [];
    for (let k = 0; k < 4; k++) {
      const at = new Date(review.card.due);
      review = reviewedCard(review, 'x', true, at);
      gaps.push(new Date(review.card.due).getTime() - at.getTime());
    }
    expect(gaps.at(-1) as number).toBeGreaterThan(24 * 60 * minute);
    expect(review).toMatchObject({ wrong: 1 });
    expect(review.lastRight).not.toBeNull();
  });

  test('a card that went through a record as JSON goes on where it was', () => {
    const first = reviewedCard(null, 'x', true, now);
    const kept = JSON.parse(JSON.stringify(first)) as typeof first;
    expect(reviewedCard(kept, 'x', true, later(60)).card.due).toEqual(
      reviewedCard(first, 'x', true, later(60)).card.due,
    );
  });

  test('a wrong call makes its pair; a right one answers the pairs that the truth belongs to', () => {
    const [made] = pairsAfter([], 'pmic', 'button', now);
    expect(made).toMatchObject({ key: pairKey('pmic', 'button'), wrong: 1, lastRight: null });
    expect(pairsAfter([made], 'core.soc', 'core.soc', later(1))).toEqual([]);
    expect(pairsAfter([made], 'pmic', 'pmic', later(20))[0]).toMatchObject({ wrong: 1, lastRight: later(20) });
  });
});

describe('what comes next', () => {
  const circuits = circuitIds.filter((c) => c !== 'unmodelled');
  const learner = (over: object = {}) => ({ ability: beginner, pairs: [], recent: [] as CircuitId[], ...over });
  const choose = (of: ReturnType<typeof learner>, at = now, seed = 1) =>
    chooseNext(of, circuits, () => 60, at, seededRandom(seed));

  test('a pair that was mixed up and is due counts more than another that was not', () => {
    const pairs = pairsAfter([], 'pmic', 'button', now);
    const next = choose(learner({ pairs }), later(60));
    expect(next.why).toBe('mixed-up');
    expect([next.circuit, next.against].sort()).toEqual(['button', 'pmic']);
    expect(choose(learner({ pairs }), now).why).not.toBe('mixed-up');
  });

  test('what was practised just now rests', () => {
    const first = choose(learner());
    expect(first.why).toBe('new');
    expect(choose(learner({ recent: [first.circuit] })).circuit).not.toBe(first.circuit);
  });

  test('everything is met once before long', () => {
    let of = learner();
    const met = new Set<CircuitId>();
    for (let k = 0; k < 60; k++) {
      const { circuit } = choose(of, now, k);
      met.add(circuit);
      of = { ...of, ability: ratedAbility(of.ability, circuit, 1000, 80), recent: [...of.recent, circuit] };
    }
    expect(met.size).toBe(circuits.length);
  });
});

describe('figures', () => {
  const unit = (over: Partial<CalledUnit> = {}): CalledUnit => ({
    circuit: 'pmic',
    said: 'pmic',
    sure: 0.8,
    points: 80,
    enginePoints: 85,
    testPoints: null,
    final: null,
    minutes: 10,
    probes: 2,
    wasted: 0,
    depth: 0,
    risks: [],
    at: now,
    ...over,
  });
  const many = (n: number, over: Partial<CalledUnit> = {}): CalledUnit[] => Array.from({ length: n }, () => unit(over));

  test('none is all zero', () => {
    expect(practiceFigures([])).toMatchObject({ units: 0, right: 0, points: 0, calibration: [] });
  });

  test('sureness is held against how often it was right', () => {
    const calls = [...many(7, { sure: 0.9 }), ...many(3, { sure: 0.9, said: 'button', points: -60 })];
    const [group] = practiceFigures(calls).calibration;
    expect(group).toMatchObject({ right: 7, of: 10 });
    expect(group.said).toBeCloseTo(0.9, 9);
  });

  test('over time: ten calls after ten, counted back from the last', () => {
    const calls = [...many(4, { sure: 0 }), ...many(10, { sure: 0.9, said: 'button' }), ...many(10, { sure: 0.6 })];
    const { overTime } = practiceFigures(calls);
    expect(overTime.map(({ right, of }) => [right, of])).toEqual([
      [0, 10],
      [10, 10],
    ]);
    expect(overTime.map((s) => s.said)).toEqual([expect.closeTo(0.9, 9), expect.closeTo(0.6, 9)]);
    expect(practiceFigures(many(9)).overTime).toEqual([]);
  });

  test('the mean of the next tests is over the verdicts with a part', () => {
    expect(practiceFigures(many(3)).testPoints).toBeNull();
    const calls = [unit(), unit({ testPoints: 100 }), unit({ testPoints: 0 })];
    expect(practiceFigures(calls).testPoints).toBe(50);
  });

  test('what is said at the end has means of its own', () => {
    expect(practiceFigures(many(3)).final).toBeNull();
    const calls = [unit(), unit({ final: { points: 90, engine: 100 } }), unit({ final: { points: 50, engine: 80 } })];
    expect(practiceFigures(calls).final).toEqual({ points: 70, engine: 90, of: 2 });
  });

  test.each([
    [many(5), /5 of 6 units/],
    [many(8, { points: 30 }), /30 points; the engine got 85/],
    [[...many(6), ...many(5, { said: 'button', points: 70, sure: 0.9 })], /said 85 %, right in 6 of 11/],
    [[...many(7), unit({ risks: [{ id: 'burnt', says: 'Burnt a short open at io.' }] })], /Burnt a short open/],
  ])('not yet: %#', (calls, says) => {
    expect(readinessOf(calls)).toMatchObject({ isReady: false, says: expect.stringMatching(says) });
  });

  test('ready, with what it stands on; a risk long ago is forgotten', () => {
    expect(readinessOf(many(6))).toMatchObject({ isReady: true, says: 'right in 6 of the last 6, 80 points' });
    const old = unit({ at: later(-9999), risks: [{ id: 'burnt', says: 'Burnt.' }] });
    expect(readinessOf([old, ...many(12)]).isReady).toBe(true);
  });
});
