import fc from 'fast-check';
import { circuitIds, type DeviceClass } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import { assess, believe } from '../diagnosis/index.ts';
import { checkOf, readingOf, typedCase } from '../testing/cases.ts';
import { ownProfileUnit } from '../testing/scenes.ts';
import { sayDevicesLeft } from './devices-left.ts';
import { populationOf, withPopulation } from './population.ts';

const traits = (deviceClass: DeviceClass, lines: string[], over: Partial<Case> = {}): string[] => {
  const { value, shapes } = typedCase(deviceClass, lines, over);
  return (assess(value, shapes).device?.traits ?? []).map((t) => t.words);
};
const dark = 'dc-in 19V no-battery limit 3A: 20mA hold | prompt 20mA hold';
const main = (value: number) =>
  readingOf({ mode: 'voltage', value, where: 'main rail', circuit: 'rail.main', state: 'G3' });

describe('the devices that are left, in words', () => {
  test('8.6 V standing on the main rail means two cells', () => {
    expect(traits('laptop', [dark], { readings: [main(8.1)] })).toContain('two cells');
    expect(traits('laptop', [dark], { readings: [main(15.8)] })).toContain('four cells');
    expect(traits('laptop', [dark])).not.toEqual(expect.arrayContaining([expect.stringMatching(/cells/)]));
  });
  test('as a phrase with percentages', () => {
    const { value, shapes } = typedCase('laptop', [dark], { readings: [main(8.1)] });
    expect(sayDevicesLeft(assess(value, shapes).device)).toMatch(/two cells \(\d+ %\)/);
  });
  test('a supply in place of the battery says it as well', () =>
    expect(traits('laptop', ['battery 8V limit 3A: 0 | prompt 0.1 hold'])).toContain('two cells'));
  test('nothing is said that was not learned from the case', () => {
    const { value, shapes } = typedCase('phone', ['battery 4V limit 2A: 0 | prompt 0.1 0.25 0.35 hold'], {});
    const left = assess(value, shapes).device;
    for (const trait of left?.traits ?? []) expect(trait.p).toBeGreaterThan(trait.before + 0.1);
    expect(left?.effective).toBeGreaterThan(1);
    expect(left?.effective).toBeLessThanOrEqual(left?.of ?? 0);
  });
  test('a model with a profile of its own is not one of many', () => {
    const { value, shapes } = ownProfileUnit();
    expect(assess(value, shapes).device).toBeNull();
    expect(sayDevicesLeft(null)).toBeNull();
    expect(populationOf(believe(value, shapes).history)).toBeNull();
  });
  test('every option that is left has a name in the population', () => {
    const { value, shapes } = typedCase('laptop', [dark], { checks: [checkOf('charge-indicator', 'off')] });
    const left = assess(value, shapes).device;
    expect(left?.profile).toBe('generic-laptop-dc');
    expect(Object.keys(left?.choices ?? {})).toEqual(expect.arrayContaining(['cells', 'always-on-dc', 'on-power']));
  });
});

describe('table and population together', () => {
  const share = fc.double({ min: 0.001, max: 1, noNaN: true });
  const list = (n: number): fc.Arbitrary<number[]> => fc.array(share, { minLength: n, maxLength: n });
  const words = ['a', 'b', 'c'] as const;
  type Word = (typeof words)[number];
  /** Three hypotheses, of which the last is of a circuit that no device of the population has. */
  const given = fc.tuple(list(9), list(6), list(3)).map(([t, q, prior]) => ({
    table: Object.fromEntries(words.map((word, k) => [word, t.slice(3 * k, 3 * k + 3)])) as Record<Word, number[]>,
    predicted: Object.fromEntries(words.map((word, k) => [word, [q[2 * k], q[2 * k + 1], null]])),
    prior,
  }));
  const mass = (of: Record<Word, number[]>, prior: readonly number[]): number =>
    words.reduce((sum, word) => sum + prior[0] * of[word][0] + prior[1] * of[word][1], 0);

  test('say as much as the table does, and leave what the population does not know', () =>
    fc.assert(
      fc.property(given, fc.double({ min: 0, max: 1, noNaN: true }), ({ table, predicted, prior }, mix) => {
        const joined = withPopulation(table, predicted, [0, 1, 2], mix, words, prior);
        expect(mass(joined, prior)).toBeCloseTo(mass(table, prior), 9);
        words.forEach((word) => expect(joined[word][2]).toBe(table[word][2]));
      }),
    ));

  test('have the odds of the population where it counts alone, and of the table where it counts for nothing', () =>
    fc.assert(
      fc.property(given, ({ table, predicted, prior }) => {
        const [alone, without] = [1, 0].map((mix) => withPopulation(table, predicted, [0, 1, 2], mix, words, prior));
        for (const word of words) {
          const [x, y] = predicted[word] as number[];
          expect(alone[word][0] / alone[word][1]).toBeCloseTo(x / y, 6);
          expect(without[word]).toEqual(table[word]);
        }
      }),
    ));
});

test('the order of the checks does not matter, with a population beside the tables', () => {
  const line = 'battery 4V limit 2A: 0 | prompt 0.1 0.25 0.35 hold';
  const checks = [checkOf('screen', 'dark'), checkOf('host-detects', 'recovery'), checkOf('charges', 'yes')];
  const posterior = (list: Case['checks']): readonly number[] => {
    const { value, shapes } = typedCase('phone', [line], { checks: list });
    return believe(value, shapes).posterior;
  };
  const [one, other] = [posterior(checks), posterior([...checks].reverse())];
  one.forEach((p, h) => expect(other[h]).toBeCloseTo(p, 9));
  expect(one.length).toBeGreaterThanOrEqual(circuitIds.length);
});
