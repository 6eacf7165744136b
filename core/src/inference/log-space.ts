/**
 * Log of the sum of exponentials, without overflow.
 *
 * @param logs natural logs; -Infinity counts as nothing
 * @returns -Infinity for an empty list
 * @example logSumExp([Math.log(0.2), Math.log(0.3)]) // Math.log(0.5)
 */
export function logSumExp(logs: readonly number[]): number {
  const highest = logs.reduce((most, x) => Math.max(most, x), -Infinity);
  if (highest === -Infinity) return -Infinity;
  return highest + Math.log(logs.reduce((sum, x) => sum + Math.exp(x - highest), 0));
}

/**
 * Probabilities from unnormalised natural logs.
 *
 * @param logs natural logarithms, one an item; -Infinity for what is impossible
 * @returns sums to 1; the same length as `logs`
 * @throws {RangeError} where every entry is -Infinity or one is not a number
 * @example normaliseLogs([0, 0]) // [0.5, 0.5]
 */
export function normaliseLogs(logs: readonly number[]): number[] {
  const total = logSumExp(logs);
  if (!Number.isFinite(total)) throw new RangeError('no hypothesis has any probability left');
  return logs.map((x) => Math.exp(x - total));
}

/**
 * Scales weights to a sum of 1.
 *
 * @param least no entry falls below this before scaling, so that nothing is excluded for good
 */
export function normaliseWeights(weights: readonly number[], least = 0): number[] {
  const held = weights.map((x) => Math.max(Number.isFinite(x) ? x : 0, least));
  const sum = held.reduce((total, x) => total + x, 0);
  return sum > 0 ? held.map((x) => x / sum) : held.map(() => 1 / held.length);
}

/**
 * Sums of `values` by group.
 *
 * @param groups group of every value, from 0
 * @param count how many groups there are
 */
export function sumBy(values: ArrayLike<number>, groups: readonly number[], count: number): number[] {
  const sums = new Array<number>(count).fill(0);
  for (let k = 0; k < values.length; k++) sums[groups[k]] += values[k];
  return sums;
}
