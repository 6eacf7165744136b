import fc from 'fast-check';
import { seededRandom } from '../trace/index.ts';
import { correctedP, fitRecalibration, recalibratedP, type KnownCall } from './recalibration.ts';

/** Calls of an engine that says `said` where it is right in `right`, among four others. */
function calls(count: number, said: number, right: number, seed = 1): KnownCall[] {
  const random = seededRandom(seed);
  return Array.from({ length: count }, () => {
    const hit = random() < right;
    const it = hit ? 0 : 1 + Math.floor(4 * random());
    return [said, ...new Array<number>(4).fill((1 - said) / 4)].map((p, k) => ({ p, wasIt: k === it }));
  });
}

describe('recalibration', () => {
  test('a few calls change nothing', () => {
    expect(fitRecalibration(calls(10, 0.95, 0.3))).toBeNull();
  });
  test('percentages that hold are left alone', () => {
    const found = fitRecalibration(calls(200, 0.7, 0.7));
    expect(found === null || Math.abs(correctedP(0.7, found) - 0.7) < 0.08).toBe(true);
  });
  test('an engine that says 95 % and is right in half is brought down, and gains on calls that were left out', () => {
    const found = fitRecalibration(calls(200, 0.95, 0.5));
    expect(found?.gain).toBeGreaterThan(found?.gainError ?? 0);
    const [first] = recalibratedP([0.95, 0.0125, 0.0125, 0.0125, 0.0125], found ?? { slope: 1, shift: 0 });
    expect(first).toBeGreaterThan(0.4);
    expect(first).toBeLessThan(0.65);
  });
  test('no correction is no change', () => {
    const list = [0.6, 0.3, 0.1];
    recalibratedP(list, { slope: 1, shift: 0 }).forEach((p, k) => expect(p).toBeCloseTo(list[k], 9));
  });
  test('keeps the order and the sum, whatever was fitted', () => {
    const list = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 12 });
    const slope = fc.double({ min: 0.05, max: 3, noNaN: true });
    const shift = fc.double({ min: -4, max: 4, noNaN: true });
    fc.assert(
      fc.property(list, slope, shift, (p, a, b) => {
        const total = p.reduce((x, y) => x + y, 0);
        const after = recalibratedP(p, { slope: a, shift: b });
        expect(after.reduce((x, y) => x + y, 0)).toBeCloseTo(total, 6);
        p.forEach((x, i) =>
          p.forEach((y, j) => {
            if (x > y) expect(after[i]).toBeGreaterThanOrEqual(after[j] - 1e-12);
          }),
        );
      }),
    );
  });
});
