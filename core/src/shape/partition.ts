/**
 * Change points by optimal partitioning with the Gaussian cost of a shift in the mean: sum of squared deviations from
 * each segment's mean, plus `penalty` a change. Exact, by functional pruning (Maidstone, Hocking, Rigaill and Fearnhead
 * 2017): for every level the mean could have, only the start that is best for it is kept, which leaves a handful however
 * long a signal stands still.
 *
 * @param y samples of about constant noise
 * @param penalty cost of one more change, in squared units of `y`
 * @returns indices at which a new segment begins, rising, without 0
 * @example optimalPartition(Float64Array.of(0, 0, 0, 9, 9, 9), 5) // [3]
 * @remarks about linear in the length; memory for the samples three times over
 */
export function optimalPartition(y: Float64Array, penalty: number): number[] {
  const n = y.length;
  if (n < 2) return [];
  const [sum, squares] = prefixSums(y);
  const best = new Float64Array(n + 1);
  const previous = new Int32Array(n + 1);
  let starts: Starts = { low: [], high: [], from: [] };
  let next: Starts = { low: [], high: [], from: [] };
  const [least, most] = extent(y);
  push(starts, least, most, 0);
  for (let end = 1; end <= n; end++) {
    let lowest = Infinity;
    let from = 0;
    for (let k = 0; k < starts.from.length; k++) {
      const start = starts.from[k];
      const count = end - start;
      const total = sum[end] - sum[start];
      const level = Math.min(starts.high[k], Math.max(starts.low[k], total / count));
      const value = best[start] + squares[end] - squares[start] + level * (count * level - 2 * total);
      if (value < lowest) {
        lowest = value;
        from = start;
      }
    }
    best[end] = lowest + penalty;
    previous[end] = from;
    // Where beginning anew at `end` costs less than going on, the new start takes the levels over.
    next.low.length = next.high.length = next.from.length = 0;
    for (let k = 0; k < starts.from.length; k++) {
      const start = starts.from[k];
      const [low, high] = [starts.low[k], starts.high[k]];
      const count = end - start;
      const middle = (sum[end] - sum[start]) / count;
      const atMiddle = best[start] + squares[end] - squares[start] - count * middle * middle;
      const room = (best[end] - atMiddle) / count;
      const reach = room < 0 ? -1 : Math.sqrt(room);
      const keptLow = Math.max(low, middle - reach);
      const keptHigh = Math.min(high, middle + reach);
      if (reach < 0 || keptLow > keptHigh) push(next, low, high, end);
      else {
        if (keptLow > low) push(next, low, keptLow, end);
        push(next, keptLow, keptHigh, start);
        if (keptHigh < high) push(next, keptHigh, high, end);
      }
    }
    [starts, next] = [next, starts];
  }
  const changes: number[] = [];
  for (let at = previous[n]; at > 0; at = previous[at]) changes.push(at);
  return changes.reverse();
}

/** Which start of the last segment is best for which levels of its mean: stretches of levels in rising order. */
interface Starts {
  low: number[];
  high: number[];
  from: number[];
}

/** Adds a stretch of levels; neighbours with the same start are one. */
function push(starts: Starts, low: number, high: number, from: number): void {
  const last = starts.from.length - 1;
  if (last >= 0 && starts.from[last] === from) {
    starts.high[last] = high;
    return;
  }
  starts.low.push(low);
  starts.high.push(high);
  starts.from.push(from);
}

function prefixSums(y: Float64Array): [Float64Array, Float64Array] {
  const sum = new Float64Array(y.length + 1);
  const squares = new Float64Array(y.length + 1);
  for (let k = 0; k < y.length; k++) {
    sum[k + 1] = sum[k] + y[k];
    squares[k + 1] = squares[k] + y[k] * y[k];
  }
  return [sum, squares];
}

function extent(y: Float64Array): [number, number] {
  let [least, most] = [Infinity, -Infinity];
  for (const value of y) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  return [least, most];
}
