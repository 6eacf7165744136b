import { historyOf } from '../diagnosis/index.ts';
import { actionOf, caseOf, readingOf } from '../testing/cases.ts';
import { shippedProfile, shippedProfiles, type Profile } from '../twin/index.ts';
import type { CircuitId } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';
import { planInjection } from './injection.ts';
import { injectionFacts } from './rail-facts.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const caseFor = (profile: Profile | null, over: Partial<Case> = {}): Case => {
  const value = caseOf((profile?.class ?? 'console') as 'console', over);
  return { ...value, device: { ...value.device, profile: profile?.id ?? null } };
};
const factsOf = (value: Case, where: string, circuit: CircuitId | null = null) =>
  injectionFacts(historyOf(value, new Map()).history, where, circuit);
const steps = (facts: ReturnType<typeof factsOf>, ohm = 0.3): number[] =>
  planInjection({ ...facts, ohm, leadsOhm: 0.2, school: 'rated' }).steps.map((s) => s.setV);

test('no plan of any shipped profile goes above its rail, and no more can stand at a processor than it takes', () => {
  for (const profile of shippedProfiles.filter((p) => !p.generic)) {
    const history = historyOf(caseFor(profile), new Map()).history;
    for (const rail of profile.rails) {
      const facts = injectionFacts(history, rail.id, null);
      for (const ohm of [0.02, 0.5, 8]) {
        const { steps: planned, maxV } = planInjection({ ...facts, ohm, leadsOhm: 0.2, school: 'rated' });
        const most = Math.max(...planned.map((s) => s.setV));
        expect(maxV).toBeLessThanOrEqual(rail.nominalV + 1e-9);
        if (rail.circuit === 'core.supply') expect(most).toBeLessThanOrEqual(0.8);
        const feedsCore = profile.converters.some((c) => c.from === rail.id && c.circuit === 'core.supply');
        if (feedsCore) expect(most).toBeLessThanOrEqual(2);
      }
    }
  }
});

test('what is known of a rail of the profile', () => {
  expect(factsOf(caseFor(phone), 'main')).toMatchObject({ isMain: true, feedsProcessor: false, nominalV: 3.85 });
  expect(factsOf(caseFor(phone), 'core')).toMatchObject({ feedsProcessor: true });
  expect(factsOf(caseFor(phone), 'io')).toMatchObject({ feedsProcessor: false, nominalV: 1.8 });
});

describe('a model without a profile', () => {
  test('a main rail of unknown voltage is fed about 1 V and never more than 2 V while the core hangs on it', () => {
    const facts = factsOf(caseFor(null), 'main rail', 'rail.main');
    expect(facts).toMatchObject({ nominalV: null, isMain: true, coreBehind: true });
    expect(steps(facts)[0]).toBeLessThanOrEqual(1);
    expect(Math.max(...steps(facts))).toBeLessThanOrEqual(2);
  });
  test('isolated phases lift that bound, joining them again puts it back', () => {
    const cut = actionOf('a1', 'isolate', { circuit: 'core.supply' });
    const joined = actionOf('a2', 'reconnect', { circuit: 'core.supply', undoes: 'a1' });
    const stated = { expect: { mainV: 12 } };
    const of = (actions: Case['actions']) => {
      const value = caseFor(null, { actions });
      return factsOf({ ...value, device: { ...value.device, ...stated } }, 'main rail', 'rail.main');
    };
    expect(of([cut])).toMatchObject({ coreBehind: false, nominalV: 12 });
    expect(of([cut, joined])).toMatchObject({ coreBehind: true });
    expect(Math.max(...steps(of([cut, joined])))).toBeLessThanOrEqual(2);
  });
  test('the voltage is the one that was measured standing, or that its name says; else nobody knows', () => {
    const stands = readingOf({ mode: 'voltage', value: 4.9, where: 'Boost', circuit: 'rail.boost' });
    expect(factsOf(caseFor(null, { readings: [stands] }), 'boost', 'rail.boost').nominalV).toBe(4.9);
    expect(factsOf(caseFor(null), 'standby 3.3 V', 'rail.standby').nominalV).toBe(3.3);
    expect(factsOf(caseFor(null), 'some coil', 'rail.run').nominalV).toBeNull();
    expect(steps(factsOf(caseFor(null), 'some coil', 'rail.run'))[0]).toBeLessThanOrEqual(1);
  });
  test('a profile that the unit contradicts does not say the voltage', () => {
    const reads = readingOf({ mode: 'voltage', value: 2.1, where: 'main', circuit: 'rail.main' });
    expect(factsOf(caseFor(phone, { readings: [reads] }), 'main').nominalV).toBe(2.1);
  });
});
