import fc from 'fast-check';
import { seededRandom } from '../trace/index.ts';
import { compileProfile, shippedProfiles } from '../twin/index.ts';
import { figuresFor, makeCase, perturb, scoreCase, usualMismatch, type CaseScore } from './index.ts';
import accepted from './accepted.json';

const profiles = new Map(shippedProfiles.map((p) => [p.id, p]));
const fleet = shippedProfiles.filter((p) => !p.generic);

test('a perturbed unit still holds together', () => {
  fc.assert(
    fc.property(fc.constantFrom(...shippedProfiles), fc.nat(1e6), (profile, seed) => {
      const unit = perturb(profile, seededRandom(seed), usualMismatch);
      expect(() => compileProfile(unit)).not.toThrow();
      for (const load of unit.loads) for (const a of Object.values(load.amps)) expect(a).toBeGreaterThanOrEqual(0);
    }),
    { numRuns: 60 },
  );
});

test('the same seed makes the same case', () => {
  const make = () => makeCase(fleet[0], seededRandom(42));
  const [a, b] = [make(), make()];
  expect(a.value).toEqual(b.value);
  expect(a.traces.get('r1')).toEqual(b.traces.get('r1'));
  expect(a.readings).toEqual(b.readings);
});

test('figures are counted as they are defined', () => {
  const verdict = (rank: number, p: number) => ({
    circuit: 'pmic',
    top: rank === 1 ? 'pmic' : 'radio',
    p,
    rank,
    pTrue: rank === 1 ? p : 0.1,
    targetRank: null,
    unmodelledRank: 5,
  });
  const score = (rank: number, p: number): CaseScore => ({
    verdicts: { runs: verdict(rank, p), checks: verdict(rank, p), readings: verdict(rank, p) },
    minutes: null,
    outside: false,
    twoFaults: false,
  });
  const f = figuresFor([score(1, 0.8), score(1, 0.8), score(2, 0.8), score(4, 0.3)], 'runs');
  expect(f.top1).toBe(0.5);
  expect(f.top3).toBe(0.75);
  // Two bins: 0.8 said, 2 of 3 right; 0.3 said, none right.
  expect(f.calibrationError).toBeCloseTo(0.75 * Math.abs(0.8 - 2 / 3) + 0.25 * 0.3, 9);
  expect(f.logLoss).toBeCloseTo((-2 * Math.log(0.8) - 2 * Math.log(0.1)) / 4, 9);
  expect(f.confusions).toEqual([{ was: 'pmic', said: 'radio', cases: 2 }]);
});

/** A smaller set of other seeds than those reported; the margin is three standard errors of a share at this size. */
test('accuracy and honesty have not fallen clearly below what was accepted', () => {
  const cases = 30;
  const scores = Array.from({ length: cases }, (_, k) =>
    scoreCase(makeCase(fleet[k % fleet.length], seededRandom(90_001 + 31 * k)), profiles, false),
  );
  for (const stage of ['runs', 'readings'] as const) {
    const now = figuresFor(scores, stage);
    const before = accepted.profile[stage];
    const margin = (share: number): number => 3 * Math.sqrt((share * (1 - share)) / now.cases);
    expect(now.top1).toBeGreaterThan(before.top1 - margin(before.top1));
    expect(now.top3).toBeGreaterThan(before.top3 - margin(before.top3));
    // Ten bins of a dozen cases each scatter by themselves by about a tenth.
    expect(now.calibrationError).toBeLessThan(before.calibrationError + 0.12);
  }
});
