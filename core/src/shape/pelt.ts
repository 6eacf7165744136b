/**
 * Change points by Pruned Exact Linear Time search (Killick, Fearnhead and Eckley 2012) with the Gaussian cost of a
 * shift in the mean: sum of squared deviations from each segment's mean, plus `penalty` a change.
 *
 * @param y samples of about constant noise
 * @param penalty cost of one more change, in squared units of `y`
 * @returns indices at which a new segment begins, rising, without 0
 * @remarks close to linear where changes are spread through the series, quadratic in the worst case (no change at all)
 */
export function pelt(y: Float64Array, penalty: number): number[] {
  const n = y.length;
  if (n < 2) return [];
  const sum = new Float64Array(n + 1);
  const squares = new Float64Array(n + 1);
  for (let k = 0; k < n; k++) {
    sum[k + 1] = sum[k] + y[k];
    squares[k + 1] = squares[k] + y[k] * y[k];
  }
  const best = new Float64Array(n + 1);
  const previous = new Int32Array(n + 1);
  const partial = new Float64Array(n + 1);
  const candidates = new Int32Array(n + 1);
  let count = 1;
  best[0] = -penalty;
  for (let end = 1; end <= n; end++) {
    let least = Infinity;
    let from = 0;
    for (let c = 0; c < count; c++) {
      const start = candidates[c];
      const total = sum[end] - sum[start];
      const value = best[start] + squares[end] - squares[start] - (total * total) / (end - start);
      partial[c] = value;
      if (value < least) {
        least = value;
        from = start;
      }
    }
    best[end] = least + penalty;
    previous[end] = from;
    let kept = 0;
    for (let c = 0; c < count; c++) {
      if (partial[c] <= best[end]) candidates[kept++] = candidates[c];
    }
    candidates[kept++] = end;
    count = kept;
  }
  const changes: number[] = [];
  for (let at = previous[n]; at > 0; at = previous[at]) changes.push(at);
  return changes.reverse();
}
