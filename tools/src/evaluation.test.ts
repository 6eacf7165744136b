import fc from 'fast-check';
import { makeCase, seededRandom, compileProfile, shippedProfiles, perturbProfile, usualSpread } from '@umbral/core';
import { clearlyBelow, figuresFor, scoreCase, type CaseScore } from './index.ts';

const profiles = new Map(shippedProfiles.map((p) => [p.id, p]));
const fleet = shippedProfiles.filter((p) => !p.generic);

test('a perturbed unit still holds together', () => {
  fc.assert(
    fc.property(fc.constantFrom(...shippedProfiles), fc.nat(1e6), (profile, seed) => {
      const unit = perturbProfile(profile, seededRandom(seed), usualSpread);
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

test('a case is scored at every stage of the work, with minutes for each order of testing', () => {
  const s = scoreCase(makeCase(fleet[2], seededRandom(77), { outside: 0 }), profiles, true);
  for (const v of Object.values(s.verdicts)) {
    expect(v.p).toBeGreaterThan(0);
    expect(v.p).toBeLessThanOrEqual(1);
    expect(v.rank === 1).toBe(v.top === v.circuit);
  }
  for (const minutes of Object.values(s.minutes ?? {})) {
    expect(minutes).toBeGreaterThanOrEqual(0);
    expect(minutes).toBeLessThanOrEqual(90);
  }
});

test('a fall is told from scatter', () => {
  const of = (top1: number, said: number, cases = 100) => ({ cases, top1, top3: Math.min(1, top1 + 0.2), said });
  const accepted = of(0.6, 0.6);
  expect(clearlyBelow(of(0.55, 0.57), accepted)).toEqual([]);
  expect(clearlyBelow(of(0.4, 0.42), accepted).join()).toMatch(/first suspect right in 40 %, accepted 60 %/);
  expect(clearlyBelow(of(0.6, 0.9), accepted).join()).toMatch(/says 90 % on average and is right in 60 %/);
});
