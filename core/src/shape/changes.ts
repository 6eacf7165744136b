import { robustSpread } from '../trace/index.ts';
import { optimalPartition } from './partition.ts';
import settings from './settings.json';

/** A stretch of sample indices, `to` exclusive. */
export interface Stretch {
  from: number;
  to: number;
}

/**
 * Where a channel changes level within a stretch without gaps.
 *
 * The channel is put on a scale of about constant noise first, asinh(rho * x / sigma) / rho: linear in units of the
 * noise floor near zero and logarithmic far above it, so that 10 against 60 mA and 1 against 2 A both count. Long
 * stretches are averaged into blocks, the search runs on those, and each change is then placed at full resolution.
 *
 * @param channel samples in their unit, finite within the stretch
 * @param stretch indices to look at
 * @param noise noise floor of the channel in its unit
 * @returns indices at which a new level begins, rising, exclusive of both ends
 */
export function findChanges(channel: Float32Array, stretch: Stretch, noise: number): number[] {
  const n = stretch.to - stretch.from;
  if (n < 2) return [];
  const size = Math.ceil(n / settings.blocks);
  const blocks = stabilise(blockMeans(channel, stretch, size), noise);
  const changes = optimalPartition(blocks, penalty(blocks));
  if (size === 1) return changes.map((at) => stretch.from + at);
  const refined = changes.map((at) => {
    const low = stretch.from + Math.max(0, at - 1) * size;
    const high = Math.min(stretch.to, stretch.from + (at + 1) * size);
    return bestSplit(channel, low, high, noise);
  });
  return refined.filter((at, k) => at > (k === 0 ? stretch.from : refined[k - 1]) && at < stretch.to);
}

/** Penalty of a change: a multiple of the noise variance times the log of the length (Schwarz 1978 has 1 a parameter). */
function penalty(y: Float64Array): number {
  const differences = new Float64Array(Math.max(0, y.length - 1));
  for (let k = 0; k < differences.length; k++) differences[k] = y[k + 1] - y[k];
  const noise = Math.max(settings.minNoise, robustSpread(differences) / Math.SQRT2 || 0);
  const capped = Math.min(noise, 2);
  return settings.penaltyFactor * capped * capped * Math.log(Math.max(y.length, settings.minSamples));
}

function stabilise(x: Float64Array, noise: number): Float64Array {
  const rho = settings.relativeNoise;
  const scale = rho / noise;
  return x.map((value) => Math.asinh(value * scale) / rho);
}

function blockMeans(channel: Float32Array, stretch: Stretch, size: number): Float64Array {
  const n = stretch.to - stretch.from;
  const out = new Float64Array(Math.ceil(n / size));
  for (let b = 0; b < out.length; b++) {
    const from = stretch.from + b * size;
    const to = Math.min(stretch.to, from + size);
    let sum = 0;
    for (let k = from; k < to; k++) sum += channel[k];
    out[b] = sum / (to - from);
  }
  return out;
}

/** The split of [low, high) into two levels with the least squared deviation. */
function bestSplit(channel: Float32Array, low: number, high: number, noise: number): number {
  const y = stabilise(Float64Array.from(channel.subarray(low, high)), noise);
  let total = 0;
  for (const value of y) total += value;
  let left = 0;
  let best = -Infinity;
  let at = low + (y.length >> 1);
  for (let k = 1; k < y.length; k++) {
    left += y[k - 1];
    const right = total - left;
    const gain = (left * left) / k + (right * right) / (y.length - k);
    if (gain > best) {
      best = gain;
      at = low + k;
    }
  }
  return at;
}

/**
 * Splits a run where the recording paused for many sampling intervals.
 *
 * @param t seconds of the rows that have a value, rising
 * @param interval usual time between rows in seconds
 * @returns stretches without a pause, in order
 */
export function findStretches(t: Float64Array, interval: number): Stretch[] {
  const pause = Math.max(settings.gapLeastS, settings.gapIntervals * (interval || 0));
  const out: Stretch[] = [];
  let from = 0;
  for (let k = 1; k < t.length; k++) {
    if (t[k] - t[k - 1] > pause) {
      out.push({ from, to: k });
      from = k;
    }
  }
  if (t.length > 0) out.push({ from, to: t.length });
  return out;
}
