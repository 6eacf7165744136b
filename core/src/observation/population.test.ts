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

test('table and population together keep the sum that the table has', () => {
  const share = fc.double({ min: 0.001, max: 1, noNaN: true });
  fc.assert(
    fc.property(
      fc.array(share, { minLength: 6, maxLength: 6 }),
      fc.array(share, { minLength: 6, maxLength: 6 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (t, q, mix) => {
        const words = ['a', 'b', 'c'] as const;
        const table = Object.fromEntries(words.map((word, k) => [word, [t[k], t[k + 3]]])) as Record<
          'a' | 'b' | 'c',
          number[]
        >;
        const sum = (k: number): number => q[k] + q[k + 1] + q[k + 2];
        // The second circuit is in no device of the population.
        const predicted = Object.fromEntries(words.map((word, k) => [word, [q[k] / sum(0), null]]));
        const joined = withPopulation(table, predicted, [0, 1], mix, words);
        const total = (of: Record<string, number[]>, h: number): number =>
          words.reduce((s, word) => s + of[word][h], 0);
        expect(total(joined, 0)).toBeCloseTo(total(table, 0), 9);
        words.forEach((word) => expect(joined[word][1]).toBe(table[word][1]));
      },
    ),
  );
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
  expect(circuitIds.length).toBe(one.length);
});
