import fc from 'fast-check';
import type { Reading } from '../case/index.ts';
import { typedCase } from '../testing/cases.ts';
import { compileProfile, makeWorkspace, parseFault, shippedProfiles, type Profile } from '../twin/index.ts';
import { assess, Trial, type Assessment } from './index.ts';
import { firstOnLadder } from './twin-ladder.ts';

const full = shippedProfiles.filter((p) => !p.generic);
const laptop = full.find((p) => p.class === 'laptop') as Profile;

function trialOf(profile: Profile, spec: string): Trial {
  const board = compileProfile(profile);
  return new Trial(board, [parseFault(profile, spec)], makeWorkspace(board));
}

describe('what walking the rails finds first', () => {
  const converterOf = (profile: Profile, rail: string) =>
    profile.converters.find((c) => c.to.includes(rail) && c.kind !== 'charger');

  test.each(full.map((p) => [p.id, p] as const))('%s: nothing on a healthy board', (_, profile) => {
    expect(firstOnLadder(trialOf(profile, 'none'), 'rail-voltages', 'own')).toBe('all rails stand');
    expect(firstOnLadder(trialOf(profile, 'none'), 'diode-readings', 'own')).toBe('no rail is low to ground');
  });
  test('a hard short is found to ground on its own rail', () => {
    for (const profile of full)
      for (const rail of profile.rails.filter((r) => r.state === 'run' || r.state === 'S0'))
        expect(firstOnLadder(trialOf(profile, `short:${rail.id}=0.05`), 'diode-readings', 'own')).toBe(
          `low to ground: ${rail.name}`,
        );
  });
  test('a dead converter leaves its rail, or one below that hangs on it, missing', () => {
    let told = 0;
    for (const rail of laptop.rails.filter((r) => r.state === 'S5' || r.state === 'S3' || r.state === 'S0')) {
      const converter = converterOf(laptop, rail.id);
      if (!converter || converter.to.length > 1) continue;
      const found = firstOnLadder(trialOf(laptop, `dead:${converter.id}`), 'rail-voltages', 'own');
      expect(found).toMatch(/^first missing: /);
      told += Number(found === `first missing: ${rail.name}`);
    }
    expect(told).toBeGreaterThan(3);
  });
  test('under a generic profile the circuit stands for the rail', () => {
    const rail = laptop.rails.find((r) => r.circuit === 'rail.run') as Profile['rails'][number];
    expect(firstOnLadder(trialOf(laptop, `short:${rail.id}=0.05`), 'diode-readings', 'generic')).toBe(
      'low to ground: Run-state rail',
    );
  });
});

const usual: Reading = {
  where: 'a pad',
  circuit: 'rail.run',
  state: 'S0',
  prompted: true,
  mode: 'voltage',
  value: 0,
  unit: 'V',
  ol: false,
  reference: 1.8,
  redProbe: null,
  powered: true,
};
const rung = (over: Partial<Reading>): Reading => ({ ...usual, ...over });

function assessed(readings: Reading[]): Assessment {
  const { value, shapes } = typedCase('laptop', ['dc-in 19V: 30mA | prompt 210mA hold'], { readings });
  return assess(value, shapes);
}
const of = (a: Assessment, id: string): number => a.circuits.find((c) => c.id === id)?.p ?? 0;
const surest = (a: Assessment): number => a.circuits[0].p;

describe('readings where the profile only resembles the device', () => {
  const standby = rung({ where: 'standby', circuit: 'rail.standby', state: 'S5', value: 3.3, reference: 3.3 });
  test('standby stands and run is missing: not the standby rail, not something always on', () => {
    const before = assessed([]);
    const after = assessed([standby, rung({})]);
    const against = (a: Assessment, id: string): number => of(a, id) / of(a, 'rail.run');
    expect(against(after, 'rail.standby')).toBeLessThan(against(before, 'rail.standby'));
    expect(against(after, 'rail.always-on')).toBeLessThan(against(before, 'rail.always-on'));
  });
  test('thirty rungs that are missing for one reason do not make it certain', () => {
    const many = Array.from({ length: 30 }, (_, k) => rung({ where: `pad ${k}` }));
    expect(surest(assessed(many))).toBeLessThan(surest(assessed([rung({})])) + 0.35);
    expect(surest(assessed(many))).toBeLessThan(0.95);
  });
  test('percentages stay percentages whatever is read', () => {
    const reading = fc.record({
      value: fc.double({ min: 0, max: 20, noNaN: true }),
      state: fc.constantFrom('G3', 'S5', 'S3', 'S0', null) as fc.Arbitrary<Reading['state']>,
      circuit: fc.constantFrom('rail.run', 'rail.standby', 'rail.main', 'core.supply', null) as fc.Arbitrary<
        Reading['circuit']
      >,
    });
    fc.assert(
      fc.property(fc.array(reading, { maxLength: 12 }), (list) => {
        const a = assessed(list.map((r, k) => rung({ ...r, where: `pad ${k}` })));
        const sum = a.circuits.reduce((total, c) => total + c.p, 0);
        expect(sum).toBeGreaterThan(0.97);
        expect(sum).toBeLessThan(1.0001);
      }),
      { numRuns: 25 },
    );
  });
});

describe('measuring the rails as a test', () => {
  test('is proposed with the rail that each suspect would show first', () => {
    const { value, shapes } = typedCase('laptop', ['usb-c port 1: 5V 0.1 20V 0.15 | prompt 0.2 hold']);
    const own = { ...value, device: { ...value.device, profile: laptop.id } };
    const ladder = assess(own, shapes).next.find((n) => n.check === 'rail-voltages');
    expect(ladder?.predicts[0].outcome).toMatch(/first missing|all rails stand/);
    expect(ladder?.bits).toBeGreaterThan(0);
    expect(ladder?.risk).toMatch(/battery off first/);
  });
});
