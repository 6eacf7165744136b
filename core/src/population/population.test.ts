import fc from 'fast-check';
import { seededRandom } from '../trace/index.ts';
import { compileProfile, ProfileProblem, shippedProfile, type Profile } from '../twin/index.ts';
import {
  alternativesOf,
  drawDevices,
  editedProfile,
  narrowedProfile,
  shippedPopulations,
  soundUnit,
  startsSound,
  usualSpread,
} from './index.ts';
import type { Edit, Population } from './index.ts';

const phone = shippedProfile('generic-phone') as Profile;
const laptop = shippedProfile('generic-laptop') as Profile;
const whole = (profile: Profile) => ({ profile, chargeShare: 0.5 });
const pairs = shippedPopulations.flatMap((population) =>
  population.profiles.map((id) => ({ id, population, profile: shippedProfile(id) as Profile })),
);

describe('populations that ship', () => {
  test.each(pairs)('every device of $id starts when nothing is wrong with it', ({ population, profile }) => {
    const few = { ...population, devices: 12 };
    for (const device of drawDevices(few, profile)) {
      expect(() => compileProfile(device.profile)).not.toThrow();
      expect([device.profile.id, startsSound(device.profile)]).toEqual([device.profile.id, true]);
    }
  });

  test.each(pairs)('every option of $id is met as often as its weight says', ({ population, profile }) => {
    const devices = drawDevices(population, profile);
    expect(devices).toHaveLength(population.devices);
    for (const a of alternativesOf(population, profile.id))
      for (const option of a.options) {
        const met = devices.filter((d) => d.choices[a.id] === option.id).length;
        expect(Math.abs(met - option.weight * devices.length)).toBeLessThanOrEqual(1);
      }
  });

  test('the same devices every time, and others for another seed', () => {
    const [{ population, profile }] = pairs;
    const few: Population = { ...population, devices: 4 };
    expect(drawDevices(few, profile)).toEqual(drawDevices(few, profile));
    expect(drawDevices({ ...few, seed: few.seed + 1 }, profile)).not.toEqual(drawDevices(few, profile));
  });

  test('what an option changes is in the device that has it', () => {
    const { population, profile } = pairs.find((p) => p.id === 'generic-laptop') as (typeof pairs)[number];
    for (const device of drawDevices({ ...population, devices: 12 }, profile)) {
      const cells = { two: 2, three: 3, four: 4 }[device.choices.cells] ?? 0;
      expect(device.profile.battery?.nominalV).toBeCloseTo(cells * 3.8, 6);
      expect(device.profile.rails.find((r) => r.id === 'main')?.nominalV).toBeCloseTo(cells * 3.8, 6);
      expect(device.profile.startsOnPower).toBe(device.choices['on-power'] === 'yes');
    }
  });
});

describe('a change to a profile', () => {
  const of = (edit: Edit, profile = phone): Profile => editedProfile(whole(profile), edit).profile;

  test('sets, scales, adds, takes away, and leaves the one it is given alone', () => {
    const before = structuredClone(phone);
    expect(
      of({ at: ['charger'], set: { drivenBy: 'pmic' } }).converters.find((c) => c.id === 'charger')?.drivenBy,
    ).toBe('pmic');
    const io = phone.converters.find((c) => c.id === 'io-conv')?.limitA ?? 0;
    expect(of({ scale: ['io-conv'], field: 'limitA', by: 3 }).converters.find((c) => c.id === 'io-conv')?.limitA).toBe(
      3 * io,
    );
    expect(of({ remove: ['radio-load'] }).loads).toHaveLength(phone.loads.length - 1);
    const [load] = phone.loads;
    expect(of({ add: { loads: [{ ...load, id: 'another' }] } }).loads.at(-1)?.id).toBe('another');
    expect(of({ device: { startsOnPower: true } }).startsOnPower).toBe(true);
    expect(of({ needs: ['memory-chip'], set: { then: 'restart' } }).stages.flatMap((s) => s.needs)).toContainEqual(
      expect.objectContaining({ of: 'memory-chip', then: 'restart' }),
    );
    const late = of({ stage: 'fetch', wait: { of: 'gauge', timeoutS: 1, then: 'off' } });
    expect(late.stages.find((s) => s.id === 'fetch')?.needs.at(-1)?.of).toBe('gauge');
    expect(of({ stage: 'loader', drop: 'memory-chip' }).stages.find((s) => s.id === 'loader')?.needs).toEqual([]);
    expect(editedProfile(whole(phone), { chargeShare: 0.1 }).chargeShare).toBe(0.1);
    expect(phone).toEqual(before);
  });

  test('that is for other profiles changes nothing', () =>
    expect(of({ at: ['no-such'], set: {}, only: ['generic-laptop'] })).toBe(phone));

  test.each<[string, Edit, string]>([
    ['an element that is missing', { at: ['no-such'], set: { circuit: 'pmic' } }, 'no-such'],
    ['a field that it does not have', { at: ['charger'], set: { colour: 'red' } }, 'charger'],
    ['a rail at less than nothing', { at: ['main'], set: { nominalV: -1 } }, 'main'],
    ['a factor of nothing', { scale: ['charger'], field: 'limitA', by: 0 }, 'charger'],
    ['a factor on a word', { scale: ['charger'], field: 'name', by: 2 }, 'charger'],
    ['taking away what is missing', { remove: ['no-such'] }, 'no-such'],
    ['waiting that nobody does', { needs: ['button'], set: { then: 'off' } }, 'button'],
    ['a stage that is missing', { stage: 'no-such', drop: 'gauge' }, 'no-such'],
    ['dropping what a stage does not wait for', { stage: 'core', drop: 'gauge' }, 'gauge'],
    ['no cell at all', { cells: 0, rails: ['main'] }, 'cells'],
  ])('refuses %s with its place', (_, edit, path) => {
    expect(() => of(edit)).toThrow(ProfileProblem);
    try {
      of(edit);
    } catch (problem) {
      expect((problem as ProfileProblem).path).toBe(path);
    }
  });

  test('of cells wants a battery', () =>
    expect(() => of({ cells: 2, rails: ['main'] }, shippedProfile('generic-console') as Profile)).toThrow(/has none/));
});

test('a profile of a model begins with what was found out of its units', () => {
  const [, computers] = shippedPopulations;
  const narrowed = narrowedProfile(computers, laptop, {
    cells: 'two',
    'on-power': 'yes',
    'no-such': 'x',
    contract: 'no-such',
  });
  expect(narrowed.battery?.nominalV).toBeCloseTo(7.6, 6);
  expect(narrowed.startsOnPower).toBe(true);
  expect(narrowed.ports).toEqual(laptop.ports);
  expect(startsSound(narrowed)).toBe(true);
  expect(narrowedProfile(computers, laptop, {})).toEqual(laptop);
});

test('a unit whose figures are off still starts', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
      const unit = soundUnit(seed % 2 ? phone : laptop, seededRandom(seed), usualSpread);
      return startsSound(unit) && unit.loads.every((l) => Object.values(l.amps).every((a) => a >= 0));
    }),
    { numRuns: 12 },
  );
});

test('a profile that cannot start is said as such', () => {
  const dead = { ...phone, parts: phone.parts.map((p) => (p.id === 'pmic' ? { ...p, rail: 'core' } : p)) };
  expect(() => soundUnit(dead, seededRandom(1), usualSpread)).toThrow(/does not start/);
});
