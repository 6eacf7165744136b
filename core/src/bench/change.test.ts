import { shippedProfile } from '../twin/index.ts';
import { believe } from '../diagnosis/index.ts';
import { actionOf, readingOf } from '../testing/cases.ts';
import { deadUnits, ownProfileUnit } from '../testing/scenes.ts';
import { predictChange } from './index.ts';

const { value, shapes } = deadUnits[4];
const short = readingOf({ mode: 'resistance', value: 0.3, where: 'coil 2', circuit: 'rail.run' });
const belief = believe({ ...value, readings: [short] }, shapes);

test('a suspect expects a cure where it is changed, and nothing to move where it is not', () => {
  const [own] = predictChange(belief, { kind: 'replace', circuit: 'rail.run', target: 'coil 2' });
  expect(own).toMatchObject({ element: { circuit: 'rail.run' }, moved: 'recovers' });
  expect(own.certainty).toBeGreaterThan(0.5);
  const [other] = predictChange(belief, { kind: 'replace', circuit: 'display', target: '' });
  expect(other).toMatchObject({ element: { circuit: 'rail.run' }, moved: 'same' });
});

test('the likeliest suspects come first, with what they were worth before', () => {
  const told = predictChange(belief, { kind: 'disconnect', circuit: 'display', target: '' });
  expect(told.map((t) => t.p)).toEqual([...told.map((t) => t.p)].sort((a, b) => b - a));
  for (const { certainty } of told) {
    expect(certainty).toBeGreaterThan(0);
    expect(certainty).toBeLessThanOrEqual(1);
  }
});

test('a change that names nothing is not predicted', () => {
  expect(predictChange(belief, { kind: 'replace', circuit: null, target: ' ' })).toEqual([]);
});

test('what is put back brings the fault back where it carried it', () => {
  const cured = {
    ...value,
    runs: [...value.runs],
    actions: [actionOf('a1', 'disconnect', { circuit: 'rail.run', runBefore: 'r1' })],
  };
  const of = believe({ ...cured, readings: [short] }, shapes);
  const [told] = predictChange(of, { kind: 'refit', circuit: 'rail.run', target: '', undoes: 'a1' });
  expect(told.element.circuit).toBe('rail.run');
  expect(told.moved).not.toBe('recovers');
});

test('under the own profile it is about elements', () => {
  const unit = ownProfileUnit();
  const told = predictChange(believe(unit.value, unit.shapes), { kind: 'replace', circuit: null, target: 'I/O rail' });
  const { rails, loads, parts, converters } = shippedProfile('tallgate-moorcall-2')!;
  const elements = [...rails, ...loads, ...parts, ...converters].map((e) => e.id);
  expect(told.length).toBeGreaterThan(1);
  for (const { element } of told) expect(elements).toContain(element.id);
});
