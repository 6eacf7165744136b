import type { Case, Reading } from '../case/index.ts';
import { readingOf } from '../testing/cases.ts';
import { recorded } from '../testing/recorded.ts';
import { shippedProfile, type Profile } from '../twin/index.ts';
import { planBoard } from './board-plan.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const { value, run, shape } = recorded(phone, 'short:io=0.4');
const shapes = new Map([[run.id, shape]]);
const reading = (over: Partial<Reading>): Reading =>
  readingOf({
    where: 'io',
    circuit: 'rail.run',
    state: 'run',
    prompted: true,
    mode: 'voltage',
    value: 0,
    reference: 1.8,
    powered: true,
    ...over,
  });
const withReadings = (readings: Reading[], over: Partial<Case> = {}): Case => ({
  ...value,
  runs: [run],
  readings,
  ...over,
});
const planOf = (readings: Reading[], over: Partial<Case> = {}) => planBoard(withReadings(readings, over), shapes);
const rungOf = (plan: ReturnType<typeof planBoard>, id: string) => plan.rungs.find((r) => r.id === id);

test('the ladder stands by power state, every rail of the profile once', () => {
  const { rungs, closeness, profile } = planOf([]);
  expect([closeness, profile]).toEqual(['own', phone.name]);
  expect(rungs.map((r) => r.id).sort()).toEqual(phone.rails.map((r) => r.id).sort());
  const order = ['always', 'standby', 'boot', 'run'];
  const places = rungs.map((r) => order.indexOf(r.state));
  expect([...places].sort((a, b) => a - b)).toEqual(places);
});

test('a rail that stands implies what it needs; a reading wins over what is implied; the latest of two counts', () => {
  const plan = planOf([
    reading({ where: 'core', value: 0.85, reference: 0.85, circuit: 'core.supply' }),
    reading({ where: 'io', value: 0 }),
    reading({ where: 'io', value: 1.79 }),
  ]);
  expect(rungOf(plan, 'main')?.phases.after).toMatchObject({ implied: 'present', seen: null });
  expect(rungOf(plan, 'io')?.phases.after).toMatchObject({ implied: null, seen: { finding: 'present', reading: 2 } });
  // Nothing follows for another phase.
  expect(rungOf(plan, 'main')?.phases.before.implied).toBeNull();
});

test('a resistance and a diode reading stand apart from the voltage, with the good board beside them', () => {
  const plan = planOf([
    reading({ mode: 'resistance', value: 0.4, unit: 'ohm', reference: 300, redProbe: 'ground', powered: false }),
    reading({ mode: 'diode', value: 0.02, reference: 0.41, redProbe: 'ground' }),
  ]);
  expect(rungOf(plan, 'io')).toMatchObject({
    resistance: { value: 0.4, against: { word: 'short' } },
    diode: { value: 0.02, against: { word: 'short' } },
  });
  expect(rungOf(plan, 'io')?.shorted).toBeGreaterThan(0.5);
  const open = planOf([reading({ mode: 'diode', value: null, ol: true, reference: 0.41, redProbe: 'ground' })]);
  expect(rungOf(open, 'io')).toMatchObject({ diode: { ol: true, against: { word: 'open' } } });
});

test('what was measured is not proposed again, and what follows is proposed with names', () => {
  const before = planOf([]);
  expect(before.probes.length).toBeGreaterThan(2);
  expect(before.probes.every((t) => t.kind === 'reading')).toBe(true);
  const [first] = before.probes;
  expect(first.where).toBe(first.at[0]);
  expect(first.name).toContain(phone.rails.find((r) => r.id === first.at[0])?.name);
  const after = planOf([reading({ mode: 'resistance', value: 0.4, unit: 'ohm', reference: null, redProbe: 'ground' })]);
  expect(after.probes.some((t) => t.mode === 'resistance' && t.at.includes('io'))).toBe(false);
});

test('two findings that cannot both be so are told', () => {
  const plan = planOf([
    reading({ where: 'main', value: 0, reference: 3.85, prompted: false }),
    reading({ where: 'io', value: 1.8 }),
  ]);
  expect(plan.contradictions[0]).toMatchObject({ likeliest: 'other-phase' });
});
