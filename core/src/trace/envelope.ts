import { samplingInterval } from './noise.ts';

/** A gap longer than this many readings is shown as one. */
const holdIntervals = 4;

/** What is drawn: for each of `bins` equal stretches of time the least, mean and greatest value; NaN where empty. */
export interface Envelope {
  t: Float64Array;
  low: Float32Array;
  mean: Float32Array;
  high: Float32Array;
}

/**
 * Reduces a channel for drawing so that no spike is lost, however many samples fall on a pixel.
 *
 * @param t seconds, rising
 * @param y channel in its unit, NaN where absent
 * @param t0 start of the picture in seconds
 * @param t1 end of the picture in seconds, after `t0`
 * @param bins stretches, usually one a pixel
 * @returns one entry a stretch, at its middle; where the samples are further apart than the stretches, the value holds
 *   until the next sample, since a meter's display does
 */
export function envelopeOf(t: Float64Array, y: Float32Array, t0: number, t1: number, bins: number): Envelope {
  const width = (t1 - t0) / bins;
  const out: Envelope = {
    t: Float64Array.from({ length: bins }, (_, k) => t0 + (k + 0.5) * width),
    low: new Float32Array(bins).fill(NaN),
    mean: new Float32Array(bins).fill(NaN),
    high: new Float32Array(bins).fill(NaN),
  };
  if (!(width > 0)) return out;
  const sums = new Float64Array(bins);
  const counts = new Uint32Array(bins);
  let k = lowerBound(t, t0);
  let before = k > 0 ? y[k - 1] : NaN;
  for (; k < t.length && t[k] <= t1; k++) {
    const value = y[k];
    if (value !== value) continue;
    const bin = Math.min(bins - 1, Math.floor((t[k] - t0) / width));
    sums[bin] += value;
    counts[bin]++;
    if (!(out.low[bin] <= value)) out.low[bin] = value;
    if (!(out.high[bin] >= value)) out.high[bin] = value;
  }
  const holdBins = Math.ceil((holdIntervals * (samplingInterval(t) || 0)) / width);
  let empty = 0;
  for (let bin = 0; bin < bins; bin++) {
    if (counts[bin] > 0) {
      before = sums[bin] / counts[bin];
      out.mean[bin] = before;
      empty = 0;
    } else if (++empty <= holdBins && before === before) {
      out.low[bin] = out.mean[bin] = out.high[bin] = before;
    }
  }
  return out;
}

/**
 * First index whose time is not before `at`; the length where all are.
 *
 * @param t rising
 * @param at seconds
 * @example lowerBound(Float64Array.of(0, 1, 2), 0.5) // 1
 */
export function lowerBound(t: Float64Array, at: number): number {
  let low = 0;
  let high = t.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (t[middle] < at) low = middle + 1;
    else high = middle;
  }
  return low;
}
