import { circuitIds, type CircuitId, shippedProfile, type Profile } from '@umbral/core';
import { enginePointsBy, learnerCall, meanPoints, practiseUnits, unitBank, type BankUnit } from './index.ts';

const none = circuitIds.map(() => 0);
const all = circuitIds.map(() => 1);
/** A unit that the engine is sure of. */
const plain = (truth: CircuitId): BankUnit => ({
  truth,
  prior: circuitIds.map(() => 1 / circuitIds.length),
  engine: circuitIds.map((id) => (id === truth ? 0.9 : 0.1 / (circuitIds.length - 1))),
});
const bank = (['pmic', 'button', 'rail.main', 'firmware'] as const).flatMap((c) => [plain(c), plain(c)]);

test('who knows nothing says how often it fails; who knows everything says what the engine says', () => {
  expect(learnerCall(bank[0], none)[0]).toBeCloseTo(1 / circuitIds.length, 9);
  const p = learnerCall(bank[0], all);
  p.forEach((x, k) => expect(x).toBeCloseTo(bank[0].engine[k], 6));
  expect(meanPoints(bank, none)).toBeCloseTo(0, 6);
  expect(meanPoints(bank, all)).toBeCloseTo(meanPoints(bank, null), 6);
});

test('whoever practises gets better, quicker ones sooner; the same seed gives the same course', () => {
  const course = practiseUnits(bank, bank, 'usual', 'scheduler', 1);
  expect(practiseUnits(bank, bank, 'usual', 'scheduler', 1)).toEqual(course);
  expect(course.course.at(-1) as number).toBeGreaterThan(course.course[0]);
  const quick = practiseUnits(bank, bank, 'quick', 'scheduler', 1).units;
  expect(quick).not.toBeNull();
  expect(quick as number).toBeLessThanOrEqual(course.units as number);
  expect(practiseUnits(bank, bank, 'usual', 'random', 1, 0.1).units as number).toBeLessThanOrEqual(
    practiseUnits(bank, bank, 'usual', 'random', 1).units as number,
  );
});

test('a bank has units of every circuit that a model can have, each called by the engine', () => {
  const phone = shippedProfile('tallgate-moorcall-2') as Profile;
  const made = unitBank([phone], 1, 3);
  const points = enginePointsBy(made);
  expect(points.get('button') as number).toBeGreaterThan(50);
  for (const unit of made) expect(unit.engine.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 1);
});
