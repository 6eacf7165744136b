import fc from 'fast-check';
import { membershipAbove, membershipBelow, noisyOr } from './membership.ts';
import windows from './windows.json';

const positive = fc.double({ min: 1e-6, max: 1e6, noNaN: true });
const width = fc.constantFrom(...Object.values(windows.softness));
const share = fc.double({ min: 0, max: 1, noNaN: true });

describe('how far a quantity is above a threshold', () => {
  test('half at it, and 0.73 at one width above it', () => {
    expect(membershipAbove(3, 3, 0.2)).toBeCloseTo(0.5, 12);
    expect(membershipAbove(3 * Math.exp(0.2), 3, 0.2)).toBeCloseTo(1 / (1 + Math.exp(-1)), 12);
  });

  test('more is never less above, and what is not above is below', () => {
    fc.assert(
      fc.property(positive, positive, positive, width, (a, b, threshold, w) => {
        const [less, more] = [Math.min(a, b), Math.max(a, b)];
        expect(membershipAbove(more, threshold, w)).toBeGreaterThanOrEqual(membershipAbove(less, threshold, w));
        expect(membershipAbove(a, threshold, w) + membershipBelow(a, threshold, w)).toBeCloseTo(1, 12);
        expect(membershipAbove(a, threshold, w)).toBeGreaterThanOrEqual(0);
        expect(membershipAbove(a, threshold, w)).toBeLessThanOrEqual(1);
      }),
    );
  });

  test('the unit does not matter', () => {
    fc.assert(
      fc.property(positive, positive, width, (x, threshold, w) => {
        expect(membershipAbove(1000 * x, 1000 * threshold, w)).toBeCloseTo(membershipAbove(x, threshold, w), 9);
      }),
    );
  });

  test('what the instrument cannot resolve makes every answer less sure', () => {
    fc.assert(
      fc.property(positive, positive, width, (x, threshold, w) => {
        const sure = Math.abs(membershipAbove(x, threshold, w) - 0.5);
        expect(Math.abs(membershipAbove(x, threshold, w, threshold) - 0.5)).toBeLessThanOrEqual(sure + 1e-12);
      }),
    );
  });

  test('nothing measured is not above; nothing at all may be, where the threshold cannot be resolved', () => {
    for (const x of [null, 0, -1]) {
      expect(membershipAbove(x, 1, 0.2)).toBe(0);
      expect(membershipBelow(x, 1, 0.2)).toBe(1);
    }
    expect(membershipAbove(0, 1, 0.2, 0.01)).toBeLessThan(1e-9);
    expect(membershipAbove(0, 1, 0.2, 1)).toBeGreaterThan(0.1);
    expect(membershipAbove(0, 1, 0.2, 1)).toBeLessThan(0.5);
  });
});

describe('any of several reasons', () => {
  test('never less than the strongest, never more than their sum or certain, in any order', () => {
    fc.assert(
      fc.property(fc.array(share, { maxLength: 6 }), (reasons) => {
        const joint = noisyOr(...reasons);
        expect(joint).toBeGreaterThanOrEqual(Math.max(0, ...reasons) - 1e-12);
        expect(joint).toBeLessThanOrEqual(
          Math.min(
            1,
            reasons.reduce((a, b) => a + b, 0),
          ) + 1e-12,
        );
        expect(noisyOr(...[...reasons].reverse())).toBeCloseTo(joint, 12);
      }),
    );
    expect(noisyOr()).toBe(0);
    expect(noisyOr(1, 0.2)).toBe(1);
  });
});

describe('the words for edges and reasons', () => {
  const rising = (values: number[]): boolean => values.every((x, k) => k === 0 || x > values[k - 1]);
  test('go from the least to the most, so that a name says where it stands', () => {
    expect(rising(Object.values(windows.softness))).toBe(true);
    expect(rising(Object.values(windows.weight))).toBe(true);
    expect(Math.min(...Object.values(windows.softness))).toBeGreaterThan(0);
    expect(Math.max(...Object.values(windows.weight))).toBeLessThan(1);
  });
});
