import { shippedProfiles } from '../twin/index.ts';
import { planInjection } from './injection.ts';
import { railFacts } from './rail-facts.ts';

test('no plan of any shipped profile goes above its rail, and core rails stay at 0.8 V', () => {
  for (const profile of shippedProfiles)
    for (const rail of profile.rails) {
      const facts = railFacts(profile, rail.id);
      expect(facts).not.toBeNull();
      if (!facts) continue;
      for (const ohm of [0.02, 0.5, 8]) {
        const { steps, mostV } = planInjection({ ...facts, ohm, leadsOhm: 0.2, school: 'rated' });
        expect(mostV).toBeLessThanOrEqual(rail.nominalV);
        if (rail.circuit === 'core.supply') expect(Math.max(...steps.map((s) => s.setV))).toBeLessThanOrEqual(0.8);
      }
    }
});

test('the main rail may take amperes, a rail of inputs and outputs its own voltage; what is not there is told', () => {
  const phone = shippedProfiles.find((p) => p.id === 'tallgate-moorcall-2') ?? shippedProfiles[0];
  expect(railFacts(phone, 'main')).toMatchObject({ isMain: true, feedsProcessor: false, nominalV: 3.85 });
  expect(railFacts(phone, 'core')).toMatchObject({ feedsProcessor: true });
  expect(railFacts(phone, 'io')).toMatchObject({ feedsProcessor: false, nominalV: 1.8 });
  expect(railFacts(phone, 'nowhere')).toBeNull();
});
