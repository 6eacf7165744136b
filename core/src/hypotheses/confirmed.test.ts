import fc from 'fast-check';
import { circuitIds } from '../catalogue/index.ts';
import { typedCase } from '../testing/cases.ts';
import { assess } from '../diagnosis/index.ts';
import { pooledPrior, sayConfirmed, type ConfirmedCounts } from './confirmed.ts';
import priors from './priors.json';

const none: ConfirmedCounts = { model: {}, class: {}, all: {} };
const flat = circuitIds.map(() => 1 / circuitIds.length);
const at = (p: readonly number[], id: (typeof circuitIds)[number]): number => p[circuitIds.indexOf(id)];

describe('the shop’s confirmed cases', () => {
  test('nothing confirmed changes nothing', () => {
    pooledPrior(flat, none).forEach((p, k) => expect(p).toBeCloseTo(flat[k], 12));
    expect(sayConfirmed(none)).toBeNull();
    expect(sayConfirmed(undefined)).toBeNull();
  });
  test('worked example: as many cases of the model as its prior is worth move half of the way', () => {
    const n = priors.worth.model;
    const pooled = pooledPrior(flat, { ...none, model: { 'rail.boost': n } });
    expect(at(pooled, 'rail.boost')).toBeCloseTo((1 + 1 / circuitIds.length) / 2, 9);
  });
  test('sums to one and keeps every circuit possible, whatever was confirmed', () => {
    const counts = fc.dictionary(fc.constantFrom(...circuitIds), fc.double({ min: 0, max: 500, noNaN: true }));
    fc.assert(
      fc.property(counts, counts, counts, (model, ofClass, all) => {
        const pooled = pooledPrior(flat, { model, class: ofClass, all });
        expect(pooled.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
        expect(Math.min(...pooled)).toBeGreaterThan(0);
      }),
    );
  });
  test('a case of the model counts more than one of the class, and that more than any', () => {
    const one = { display: 5 };
    const [model, ofClass, all] = [
      { ...none, model: one },
      { ...none, class: one },
      { ...none, all: one },
    ].map((c) => at(pooledPrior(flat, c), 'display'));
    expect(model).toBeGreaterThan(ofClass);
    expect(ofClass).toBeGreaterThan(all);
  });
  test('a fault that this model is known for rises, with the reason said', () => {
    const { value, shapes } = typedCase('phone', ['battery 3.9V limit 3A: 0 | prompt 0.07 0.19 0.12 hold']);
    const before = assess(value, shapes);
    const known = { 'core.storage': 9, 'core.memory': 1 };
    const after = assess(value, shapes, { confirmed: { model: known, class: known, all: known } });
    const storage = (a: typeof before) => a.circuits.find((c) => c.id === 'core.storage');
    expect(storage(after)?.p).toBeGreaterThan((storage(before)?.p ?? 1) + 0.05);
    const reason = storage(after)?.evidence.find((e) => e.item.startsWith('confirmed here before'));
    expect(reason?.item).toContain('10 cases of this model');
    expect(reason?.for).toBeGreaterThan(0);
  });
});
