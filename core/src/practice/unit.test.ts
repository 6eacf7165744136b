import { seededRandom } from '../trace/index.ts';
import { hasSymptom, Trial } from '../prediction/index.ts';
import { compileProfile, makeWorkspace, shippedProfile, shippedProfiles, type Profile } from '../twin/index.ts';
import { drawUnit, practicableCircuits } from './index.ts';
import { usualRun } from './usual-run.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const anyPhone = shippedProfile('generic-phone') as Profile;
const draw = (wish: Parameters<typeof drawUnit>[0], seed: number) => drawUnit(wish, seededRandom(seed));

test('the same seed gives the same unit, another another', () => {
  expect(draw({ profile: phone }, 5)).toEqual(draw({ profile: phone }, 5));
  const says = new Set(Array.from({ length: 8 }, (_, k) => draw({ profile: phone }, k + 1).says));
  expect(says.size).toBeGreaterThan(3);
});

test.each(practicableCircuits(phone))('a unit of %s has its fault there and nowhere else', (circuit) => {
  const unit = draw({ profile: phone, circuit }, 11);
  expect(unit.circuit).toBe(circuit);
  expect(unit.faults).toHaveLength(circuit === 'none' ? 0 : 1);
});

test('what has to be seen on a feed is seen there', () => {
  const seenOn = { feed: 'battery' as const, battery: false };
  for (let seed = 1; seed <= 6; seed++) {
    const { device, faults } = draw({ profile: phone, circuit: 'rail.run', seenOn }, seed);
    const { pattern } = usualRun(device, faults, seenOn, seededRandom(1));
    expect(pattern).not.toBe('normal-start');
  }
});

test('what is drawn freely shows', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const unit = draw({ profile: phone }, seed);
    if (unit.circuit === 'none') continue;
    const board = compileProfile(unit.device);
    expect(hasSymptom(new Trial(board, unit.faults, makeWorkspace(board)))).toBe(true);
  }
});

test('a device of a class nobody knows the model of is any of its kind; a model is near its profile', () => {
  const ids = new Set([1, 2, 3, 4].map((seed) => draw({ profile: anyPhone, circuit: 'button' }, seed).device.id));
  expect(ids.size).toBeGreaterThan(1);
  const near = draw({ profile: phone, circuit: 'button' }, 3).device;
  expect(near.rails.map((r) => r.id)).toEqual(phone.rails.map((r) => r.id));
  expect(near).not.toEqual(phone);
});

test('a fault in particular is kept as it is; what comes in degrees can be made slight or hard', () => {
  const fault = { kind: 'short' as const, at: 'io', value: 0.4, side: null };
  expect(draw({ profile: phone, fault }, 1)).toMatchObject({ faults: [fault], circuit: 'rail.run' });
  const severity = (s: 'slight' | 'hard') =>
    draw({ profile: phone, circuit: 'rail.main', severity: s }, 4).faults[0].value;
  expect(severity('slight') as number).toBeGreaterThan(severity('hard') as number);
  const at = draw({ profile: phone, circuit: 'rail.run', at: 'radio' }, 9);
  expect(at.faults[0].at).toBe('radio');
});

test('what a device does not have is refused by name', () => {
  expect(() => draw({ profile: phone, circuit: 'mgmt' }, 1)).toThrow(/no part of "mgmt"/);
  const fault = { kind: 'dead' as const, at: 'nowhere', value: null, side: null };
  expect(() => draw({ profile: phone, fault }, 1)).toThrow(/has no "nowhere"/);
});

test('every profile that ships can be practised on', () => {
  for (const profile of shippedProfiles) expect(practicableCircuits(profile).length).toBeGreaterThan(5);
});
