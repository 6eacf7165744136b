import { quantileSorted } from 'simple-statistics';

/** Makes the median absolute deviation of a normal distribution its standard deviation. */
const normalConsistency = 1.4826;

/**
 * Middle value of a list of finite numbers; the mean of the two middle ones for an even count; NaN when empty.
 *
 * @param values in no order; left as they are
 * @example median([3, 1, 2]) // 2
 */
export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/**
 * Quantile by linear interpolation between order statistics (type 7 of Hyndman and Fan 1996).
 *
 * @param values finite numbers in any order
 * @param p 0 to 1; what lies outside counts as the nearer end
 * @returns NaN when empty
 * @example
 * quantile([1, 2, 4], 0.75); // 3
 */
export function quantile(values: ArrayLike<number>, p: number): number {
  return quantileOfSorted(Float64Array.from(values).sort(), p);
}

/**
 * The same of numbers that are in rising order already.
 *
 * @param sorted rising
 * @param p 0 to 1
 * @example quantileOfSorted(Float64Array.of(0, 10), 0.5) // 5
 */
export function quantileOfSorted(sorted: Float64Array, p: number): number {
  if (sorted.length === 0) return NaN;
  // Any array will do; its types name one kind only.
  return quantileSorted(sorted as unknown as number[], Math.min(1, Math.max(0, p)));
}

/**
 * Standard deviation estimated from the median absolute deviation (consistent for Gaussian noise, Rousseeuw and Croux
 * 1993), so that a few spikes do not count.
 *
 * @param values in no order; left as they are
 * @returns in the unit of the values; NaN when empty
 */
export function robustSpread(values: ArrayLike<number>): number {
  return robustSpreadOfSorted(Float64Array.from(values).sort());
}

/**
 * The same of numbers that are in rising order already.
 *
 * @param sorted rising
 */
export function robustSpreadOfSorted(sorted: Float64Array): number {
  if (sorted.length === 0) return NaN;
  const centre = quantileOfSorted(sorted, 0.5);
  return normalConsistency * quantileOfSorted(sorted.map((x) => Math.abs(x - centre)).sort(), 0.5);
}

/**
 * Indices of an even sample of at most `most` of `n` items, always with the first.
 *
 * @param from first index
 * @param to index after the last
 * @param most at least 1
 * @example evenIndices(0, 10, 5) // Int32Array.of(0, 2, 4, 6, 8)
 */
export function evenIndices(from: number, to: number, most: number): Int32Array {
  const n = Math.max(0, to - from);
  const step = Math.max(1, Math.ceil(n / most));
  const out = new Int32Array(Math.ceil(n / step));
  for (let k = 0; k < out.length; k++) out[k] = from + k * step;
  return out;
}
