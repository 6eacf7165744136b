import fc from 'fast-check';
import type { Reading } from '../case/index.ts';
import { checkOf, readingOf, typedCase } from '../testing/cases.ts';
import { shippedProfiles, type Profile } from '../twin/index.ts';
import { assess, type Assessment } from './index.ts';

const laptop = shippedProfiles.find((p) => !p.generic && p.class === 'laptop') as Profile;

const rung = (over: Partial<Reading>): Reading =>
  readingOf({
    where: 'a pad',
    circuit: 'rail.run',
    state: 'S0',
    prompted: true,
    mode: 'voltage',
    value: 0,
    reference: 1.8,
    powered: true,
    ...over,
  });

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
  test('is proposed rail by rail under the own profile, with what each suspect expects', () => {
    const { value, shapes } = typedCase('laptop', ['usb-c port 1: 5V 0.1 20V 0.15 | prompt 0.2 hold'], {
      checks: [checkOf('other-port', 'same'), checkOf('visual', 'clean'), checkOf('diode-readings', 'all-normal')],
    });
    const own = { ...value, device: { ...value.device, profile: laptop.id } };
    const readings = assess(own, shapes).next.filter((n) => n.kind === 'reading');
    expect(readings.length).toBeGreaterThan(0);
    for (const { where, mode, bits, predicts } of readings) {
      expect(laptop.rails.map((r) => r.id)).toContain(where);
      expect(mode).not.toBeNull();
      expect(bits).toBeGreaterThan(0);
      expect(predicts.length).toBeGreaterThan(1);
    }
  });
});
