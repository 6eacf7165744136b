import fc from 'fast-check';
import { logSumExp, normaliseWeights, normaliseLogs, sumBy } from './log-space.ts';

const logs = fc.array(fc.double({ min: -700, max: 700, noNaN: true }), { minLength: 1, maxLength: 12 });
const sumOf = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);

describe('sums of exponentials', () => {
  test('worked examples: two probabilities, nothing, impossible beside certain', () => {
    expect(logSumExp([Math.log(0.2), Math.log(0.3)])).toBeCloseTo(Math.log(0.5), 12);
    expect(logSumExp([])).toBe(-Infinity);
    expect(logSumExp([-Infinity, -Infinity])).toBe(-Infinity);
    expect(logSumExp([-Infinity, 0])).toBe(0);
  });

  test('numbers that no exponential could hold do not overflow', () => {
    expect(logSumExp([1000, 1000])).toBeCloseTo(1000 + Math.LN2, 9);
    expect(logSumExp([-1000, -1000])).toBeCloseTo(-1000 + Math.LN2, 9);
  });

  test('a constant in front of all of them comes out as it went in', () => {
    fc.assert(
      fc.property(logs, fc.double({ min: -300, max: 300, noNaN: true }), (list, shift) => {
        expect(logSumExp(list.map((x) => x + shift))).toBeCloseTo(logSumExp(list) + shift, 6);
      }),
    );
  });
});

describe('probabilities', () => {
  test('from logs: they sum to 1 and keep their ratios', () => {
    fc.assert(
      fc.property(logs, fc.double({ min: -5, max: 5, noNaN: true }), (list, apart) => {
        const p = normaliseLogs([...list, list[0] + apart]);
        expect(sumOf(p)).toBeCloseTo(1, 9);
        expect(p.at(-1)!).toBeCloseTo(p[0] * Math.exp(apart), 9);
      }),
    );
  });

  test('with nothing left there is no answer', () => {
    expect(() => normaliseLogs([-Infinity, -Infinity])).toThrow(RangeError);
    expect(() => normaliseLogs([NaN, 0])).toThrow(RangeError);
  });

  test('from weights: in proportion, none below the least that is held', () => {
    expect(normaliseWeights([1, 3])).toEqual([0.25, 0.75]);
    expect(normaliseWeights([0, 4], 1)).toEqual([0.2, 0.8]);
    expect(normaliseWeights([NaN, Infinity, 2])).toEqual([0, 0, 1]);
  });

  test('weights of nothing at all are shared out evenly', () => {
    expect(normaliseWeights([0, 0, 0, 0])).toEqual([0.25, 0.25, 0.25, 0.25]);
    expect(normaliseWeights([])).toEqual([]);
  });
});

test('sums by group: every value once, groups without any are 0', () => {
  expect(sumBy([1, 2, 4], [2, 0, 2], 4)).toEqual([2, 0, 5, 0]);
  expect(sumBy(Float64Array.of(0.5), [0], 1)).toEqual([0.5]);
});
