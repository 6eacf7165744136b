import { circuitIds } from '../catalogue/index.ts';
import { trustsTried } from '../library/index.ts';
import { usualTrust, type RepeatedCase } from '../observation/index.ts';
import { actionOf, checkOf, readingOf, typedCase } from '../testing/cases.ts';
import { believe, byCircuit, lessonOf, outsideOnly } from './index.ts';

const { value, shapes } = typedCase(
  'phone',
  ['battery 4V limit 2A: 0 | prompt 0.1 0.2 hold', 'usb-c port 1: 5V 0.4 hold'],
  {
    checks: [
      checkOf('screen', 'dark'),
      checkOf('peripherals-unplugged', 'same'),
      checkOf('host-detects', 'recovery', { after: 'a1' }),
    ],
    readings: [readingOf({ mode: 'voltage', value: 1.8, where: 'io', circuit: 'rail.run', reference: 1.8 })],
    actions: [actionOf('a1', 'replace', { circuit: 'pmic', runBefore: 'r1' })],
  },
);

describe('what a confirmed case teaches', () => {
  const lesson = lessonOf(value, shapes, 'rail.run');
  test('the signatures of its runs, and what was answered before any change', () => {
    expect(lesson.signatures.map((s) => s.run)).toEqual(['r1', 'r2']);
    expect(lesson.answers['check:screen']).toBe('dark');
    expect(Object.keys(lesson.answers)).not.toContain('check:host-detects');
  });
  test('how it would have been called under every trust', () => {
    expect(lesson.scores).toHaveLength(trustsTried.length);
    for (const score of lesson.scores) expect(score).toBeLessThanOrEqual(0);
    const outside = believe(outsideOnly(value), shapes, {});
    expect(lesson.scores[0]).toBeCloseTo(Math.log(byCircuit(outside)[circuitIds.indexOf('rail.run')]), 9);
  });
  test('a case without anything from outside is no measure of trust', () => {
    expect(lessonOf({ ...value, runs: [], checks: [] }, new Map(), 'rail.run').scores).toEqual([]);
  });
  test('outside only is without what was touched inside', () => {
    const outside = outsideOnly(value);
    expect(outside.checks.map((c) => c.id)).toEqual(['screen']);
    expect([outside.readings, outside.actions, outside.injections]).toEqual([[], [], []]);
  });
});

describe('a belief that confirmed cases have a say in', () => {
  const outside = outsideOnly(value);
  const repeat = (over: Partial<RepeatedCase> = {}): RepeatedCase => ({
    id: 'job 7',
    circuit: 'core.memory',
    element: '',
    weight: 1,
    likeness: 1,
    answers: { 'check:screen': 'dark', 'check:fan': 'still' },
    says: 'job 7, Memory',
    ...over,
  });
  const with7 = believe(outside, shapes, {
    learned: { repeats: [repeat(), repeat({ id: 'far', circuit: 'display', likeness: 0.01 })], trust: usualTrust },
  });
  const without = believe(outside, shapes, {});
  const p = (belief: typeof without, id: 'core.memory' | 'display'): number =>
    byCircuit(belief)[circuitIds.indexOf(id)];
  test('the circuit of a near case gains, with its reason', () => {
    expect(p(with7, 'core.memory')).toBeGreaterThan(p(without, 'core.memory'));
    expect(with7.weighed.find((w) => w.source === 'library')?.sentence).toContain('job 7, Memory');
    expect(with7.repeats[0].id).toBe('job 7');
  });
  test('every weight adds up to the posterior', () => {
    expect(with7.posterior.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
  });
  test('nothing learned is nothing weighed', () => {
    const empty = believe(outside, shapes, { learned: { repeats: [], trust: usualTrust } });
    expect(empty.posterior).toEqual(without.posterior);
    expect(empty.repeats).toEqual([]);
  });
  test('a case that says the same twice is not two cases', () => {
    const once = believe(outside, shapes, { learned: { repeats: [repeat()], trust: usualTrust } });
    const twice = believe(outside, shapes, {
      learned: { repeats: [repeat(), repeat({ id: 'again' })], trust: usualTrust },
    });
    const odds = (belief: typeof without): number => p(belief, 'core.memory') / (1 - p(belief, 'core.memory'));
    expect(odds(twice) / odds(without)).toBeLessThan((odds(once) / odds(without)) ** 2);
  });
});
