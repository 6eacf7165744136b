import { seededRandom, shippedProfiles, makeCase } from '@umbral/core';
import { playWholeCase, type Played } from './whole-case.ts';

const full = shippedProfiles.filter((p) => !p.generic).slice(0, 2);
const profiles = new Map(shippedProfiles.map((p) => [p.id, p]));

/** Faults that can be isolated, from seeds that are reported nowhere. */
const cases = Array.from({ length: 40 }, (_, k) => ({
  seed: k,
  one: makeCase(full[k % full.length], seededRandom(77_000 + k), { outside: 0, twoFaults: 0 }),
}))
  .filter(({ one }) => one.circuit !== 'none')
  .slice(0, 1);
// That the plan takes fewer probes than the list of rails is judged by `npm run evaluate -- --whole`.
const played = cases.map(({ one, seed }) => ({ planned: playWholeCase(one, profiles, 'planned', seed) }));

test('nothing is done twice but work that can fail, and what is called isolated was touched', () => {
  for (const { planned } of played) {
    expect(new Set(planned.steps).size).toBe(planned.steps.length);
    if (planned.decided && planned.named !== 'none')
      expect(planned.steps.some((s) => !s.startsWith('check:'))).toBe(true);
  }
});

test('the same case with the same seed is played the same way', () => {
  const [{ one, seed }] = cases;
  const again: Played = playWholeCase(one, profiles, 'planned', seed);
  expect(again).toEqual(played[0].planned);
});
