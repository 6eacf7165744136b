import fc from 'fast-check';
import { circuitNames } from '../catalogue/index.ts';
import { plainAction } from '../case/index.ts';
import { elementIds, shippedProfiles, shippedProfile, targetOf, type Profile } from '../twin/index.ts';
import { partsMeant, practicableCircuits, stateAfter, drawUnit } from './index.ts';
import { seededRandom } from '../trace/index.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const meant = (target: string, circuit: Parameters<typeof partsMeant>[1]['circuit'] = null) =>
  partsMeant(phone, { target, circuit });

test.each([
  ['power button', 'button'],
  ['Power Button and its line', 'button'],
  ['side key flex', 'button'],
  ['power key', 'button'],
  ['storage', 'storage-chip'],
  ['port switch IC', 'port-switch'],
  ['pmic', 'pmic'],
])('"%s" is found by its meaning', (target, id) => {
  expect(meant(target)).toContain(id);
});

test('what no one could tell means nothing, and the circuit that was chosen decides then', () => {
  expect(meant('U7')).toEqual([]);
  expect(meant('U7', 'button')).toContain('button');
  expect(meant('')).toEqual([]);
});

test('a part that was named is that part and not its circuit', () => {
  expect(meant('charger', 'charge.charger')).toEqual(['charger']);
});

test('a fault goes with its part under each of its names, and with its circuit, and stays with every other', () => {
  const profiles = shippedProfiles.filter((p) => !p.generic);
  fc.assert(
    fc.property(fc.constantFrom(...profiles), fc.nat(1000), (profile, seed) => {
      const random = seededRandom(seed);
      const circuits = practicableCircuits(profile).filter((c) => c !== 'none');
      const circuit = circuits[seed % circuits.length];
      const unit = drawUnit({ profile, circuit }, random);
      const [fault] = unit.faults;
      const { name } = targetOf(unit.device, fault.at)!;
      const done = (target: string, of: typeof circuit | null) =>
        stateAfter(unit.device, unit.faults, [{ ...plainAction, id: 'a1', kind: 'replace', target, circuit: of }])
          .faults;
      for (const target of [fault.at, name, name.toUpperCase()]) expect(done(target, null)).toEqual([]);
      expect(done('', circuit)).toEqual([]);
      const other = circuits.find((c) => c !== circuit)!;
      expect(done('', other)).toEqual(unit.faults);
    }),
    { numRuns: 60 },
  );
});

test('every circuit that can be at fault is found by its own name', () => {
  for (const circuit of practicableCircuits(phone).filter((c) => c !== 'none')) {
    const ids = meant(circuitNames[circuit], circuit);
    expect([circuit, ids.some((id) => targetOf(phone, id)?.circuit === circuit)]).toEqual([circuit, true]);
  }
  expect(elementIds(phone).length).toBeGreaterThan(20);
});
