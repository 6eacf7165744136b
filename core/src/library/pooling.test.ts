import fc from 'fast-check';
import { circuitIds, deviceClasses } from '../catalogue/index.ts';
import { usualWorth, type Counts } from '../hypotheses/index.ts';
import { learnedWorth, type ModelCounts } from './pooling.ts';

const models = (list: Counts[]): ModelCounts[] =>
  list.map((counts, k) => ({ model: `model ${k}`, deviceClass: 'phone', counts }));

describe('pooling strength', () => {
  test('without cases it is as usual', () => {
    expect(learnedWorth([])).toEqual(usualWorth);
    expect(learnedWorth(models([{}, {}]))).toEqual(usualWorth);
  });
  test('models that fail alike take more from each other than models with weak spots of their own', () => {
    const own = models([
      { 'rail.main': 24, pmic: 1 },
      { display: 22, 'rail.main': 1 },
      { 'core.memory': 25 },
      { radio: 20 },
    ]);
    const shared: Counts = { 'rail.main': 9, display: 8, 'battery.pack': 7 };
    const alike = models([shared, shared, shared, shared]);
    expect(learnedWorth(own).model).toBeLessThan(usualWorth.model);
    expect(learnedWorth(alike).model).toBeGreaterThan(learnedWorth(own).model);
  });
  test('is always a number of cases', () => {
    const counts = fc.dictionary(fc.constantFrom(...circuitIds), fc.integer({ min: 0, max: 60 }));
    const one = fc.record({ model: fc.string(), deviceClass: fc.constantFrom(...deviceClasses), counts });
    fc.assert(
      fc.property(fc.array(one, { maxLength: 8 }), (list) => {
        for (const worth of Object.values(learnedWorth(list))) expect(worth).toBeGreaterThan(0);
      }),
    );
  });
});
