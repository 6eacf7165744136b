import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import { memoryOf, type Memory } from '../library/index.ts';
import { checkOf, injectionOf, libraryCaseOf, readingOf, typedCase } from '../testing/cases.ts';
import { assess, believe, byCircuit, lessonOf } from './index.ts';
import { sayReason } from '../reasons/index.ts';

const line = 'battery 4V limit 2A: 0 | prompt 0.1 0.2 hold';
const { value, shapes } = typedCase('phone', [line, 'usb-c port 1: 5V 0.4 hold'], {
  checks: [checkOf('screen', 'dark'), checkOf('peripherals-unplugged', 'same')],
});

test('a confirmed case teaches the signatures of the runs before any change', () => {
  const after = { ...value, runs: value.runs.map((r, k) => ({ ...r, after: k === 1 ? 'a1' : null })) };
  expect(lessonOf(value, shapes, 'rail.run').signatures.map((s) => s.run)).toEqual(['r1', 'r2']);
  expect(lessonOf(after, shapes, 'rail.run').signatures.map((s) => s.run)).toEqual(['r1']);
});

test('the table of patterns alone is scored by a run, and by nothing where there is none', () => {
  expect(lessonOf(value, shapes, 'rail.run').patternAlone).toBeLessThan(0);
  expect(lessonOf({ ...value, runs: [] }, new Map(), 'rail.run').patternAlone).toBeNull();
});

/** A library of as many cases of this model with this line, all of one circuit. */
function remembered(count: number, circuit: CircuitId, over = {}): Memory | null {
  const cases = Array.from({ length: count }, (_, k) => libraryCaseOf(`job ${k}`, line, { circuit, ...over }));
  return memoryOf(cases.map((one) => ({ one, pairs: [], squared: 0, weight: one.weight })));
}
const p = (belief: ReturnType<typeof believe>, id: CircuitId): number => byCircuit(belief)[circuitIds.indexOf(id)];
const odds = (x: number): number => x / (1 - x);

describe('what the shop remembers', () => {
  const outside = { ...value, runs: value.runs.slice(0, 1) };
  const without = believe(outside, shapes);
  test('a case like it gains for its circuit, with its reason, and is named as what may have come again', () => {
    const belief = believe(outside, shapes, { memory: remembered(1, 'core.memory') });
    expect(p(belief, 'core.memory')).toBeGreaterThan(p(without, 'core.memory'));
    const reason = belief.weighed.find((w) => w.source === 'library')?.reason;
    expect(reason && sayReason(reason)).toContain('job 0');
    expect(belief.repeats[0].id).toBe('job 0');
    expect(belief.posterior.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
  });
  test('worked example: the odds of the circuit rise tenfold for five cases of the model, and no more for a hundred', () => {
    for (const [count, factor] of [
      [1, 10 ** (1 / 5)],
      [5, 10],
      [100, 10],
    ]) {
      const belief = believe(outside, shapes, { memory: remembered(count, 'core.memory') });
      expect(odds(p(belief, 'core.memory')) / odds(p(without, 'core.memory'))).toBeCloseTo(factor, 6);
    }
  });
  test('what leads only by memory says so, and nothing else does', () => {
    const leader = circuitIds[byCircuit(without).indexOf(Math.max(...byCircuit(without)))];
    const memory = remembered(100, 'core.memory');
    const belief = believe(outside, shapes, { memory });
    expect(leader).not.toBe('core.memory');
    expect(belief.byMemory).toBe(p(belief, 'core.memory') > p(belief, leader));
    expect(believe(outside, shapes, { memory: remembered(5, leader) }).byMemory).toBe(false);
    expect(without.byMemory).toBe(false);
    const said = assess(outside, shapes, { memory }).conclusion?.isByMemory;
    expect(said).toBe(belief.byMemory);
  });
  test.each([
    [
      'a short that was measured',
      { readings: [readingOf({ mode: 'resistance', value: 0.2, where: 'run coil', circuit: 'rail.run' })] },
    ],
    [
      'a part that warmed',
      {
        injections: [
          injectionOf('main', 1, {
            circuit: 'rail.main',
            amps: 2,
            heat: 'one-spot',
            hot: 'speck',
            hotCircuit: 'rail.main',
          }),
        ],
      },
    ],
  ])('a hundred cases never turn %s round', (_, measured) => {
    const known = { ...outside, ...measured };
    const [plain, against] = [
      believe(known, shapes),
      believe(known, shapes, { memory: remembered(100, 'charge.charger') }),
    ];
    const top = byCircuit(plain).indexOf(Math.max(...byCircuit(plain)));
    expect(byCircuit(against).indexOf(Math.max(...byCircuit(against)))).toBe(top);
    const lost = Math.log(odds(byCircuit(plain)[top])) - Math.log(odds(byCircuit(against)[top]));
    expect(lost).toBeLessThan(Math.log(10) * (1 - byCircuit(plain)[top]) + 0.7);
  });
});
