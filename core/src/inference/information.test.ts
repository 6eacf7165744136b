import fc from 'fast-check';
import { entropyBits, expectedBits } from './information.ts';

describe('information', () => {
  test('information: a certain answer is worth nothing, a fair coin one bit', () => {
    const half = [0.5, 0.5];
    expect(entropyBits(half)).toBeCloseTo(1, 12);
    expect(expectedBits(half, { yes: [1, 0], no: [0, 1] })).toBeCloseTo(1, 9);
    expect(expectedBits(half, { yes: [0.3, 0.3], no: [0.7, 0.7] })).toBeCloseTo(0, 9);
  });
  test('information is never negative and never more than there is to know', () => {
    const vector = fc.array(fc.double({ min: 0.001, max: 1, noNaN: true }), { minLength: 4, maxLength: 4 });
    fc.assert(
      fc.property(vector, vector, (weights, yes) => {
        const sum = weights.reduce((a, b) => a + b, 0);
        const belief = weights.map((w) => w / sum);
        const bits = expectedBits(belief, { yes, no: yes.map((x) => 1 - x) });
        expect(bits).toBeGreaterThanOrEqual(0);
        expect(bits).toBeLessThanOrEqual(entropyBits(belief) + 1e-9);
      }),
    );
  });
});
