import { lowerBound, median, quantile } from '../trace/index.ts';
import settings from './settings.json';
import type { Pulses } from './types.ts';

/** Samples that levels are taken from; more would not move them. */
const maxSampled = 6_000;

interface Crossings {
  up: Float64Array;
  down: Float64Array;
}

/**
 * Looks for a regular repetition: the same excursion again and again at even distances.
 *
 * Upward crossings of three heights (with hysteresis) are tried, since a start-up that repeats crosses a middle height
 * more than once a period but a low one only once. The longest even sequence counts if it covers most of the time in
 * which anything happens.
 *
 * @param t seconds, rising
 * @param y channel in its unit, finite
 * @param noise noise floor in the same unit
 * @returns the repetition, or null
 */
export function findPulses(t: Float64Array, y: Float32Array, noise: number): Pulses | null {
  const n = t.length;
  if (n < settings.pulse.minTraceSamples) return null;
  const stride = Math.max(1, Math.floor(n / settings.pulseSamples));
  const sample = everyNth(y, Math.max(1, Math.floor(n / maxSampled)));
  const base = quantile(sample, settings.pulse.baseQuantile);
  const top = quantile(sample, settings.pulse.topQuantile);
  const height = top - base;
  if (!(height > settings.pulse.heightNoise * noise) || !(height > settings.pulse.heightShare * Math.abs(top)))
    return null;
  let best: Pulses | null = null;
  for (const share of settings.pulse.crossingShares) {
    if (share < 0.5 && share * height < settings.pulse.crossingNoise * noise) continue;
    const found = evenSequence(
      crossings(t, y, base + share * height, base + settings.pulse.hysteresis * share * height, stride),
      t,
    );
    if (!found) continue;
    const better = best === null || found.count * found.periodS > settings.pulse.longerBy * best.count * best.periodS;
    if (better || (best !== null && found.jitter < 0.5 * best.jitter && found.count >= best.count)) {
      best = { ...found, ...describe(t, y, found, base, height, noise) };
    }
  }
  return best;
}

function everyNth(y: Float32Array, step: number): Float32Array {
  if (step === 1) return y;
  const out = new Float32Array(Math.floor(y.length / step));
  for (let k = 0; k < out.length; k++) out[k] = y[k * step];
  return out;
}

function crossings(t: Float64Array, y: Float32Array, rise: number, fall: number, stride: number): Crossings {
  const up: number[] = [];
  const down: number[] = [];
  let high = y[0] > rise;
  for (let k = stride; k < y.length; k += stride) {
    if (!high && y[k] > rise) {
      high = true;
      up.push(between(t[k - stride], t[k], y[k - stride], y[k], rise));
    } else if (high && y[k] < fall) {
      high = false;
      down.push(between(t[k - stride], t[k], y[k - stride], y[k], fall));
    }
  }
  return { up: Float64Array.from(up), down: Float64Array.from(down) };
}

function between(t0: number, t1: number, y0: number, y1: number, level: number): number {
  return y1 === y0 ? t1 : t0 + ((level - y0) / (y1 - y0)) * (t1 - t0);
}

type Sequence = Pick<Pulses, 't0' | 't1' | 'periodS' | 'count' | 'jitter'>;

function evenSequence({ up, down }: Crossings, t: Float64Array): Sequence | null {
  const n = t.length;
  if (up.length < settings.pulse.minCrossings) return null;
  const intervals = up.slice(1).map((at, k) => at - up[k]);
  const typical = median(intervals);
  const resolvable = (t[n - 1] - t[0]) / (n - 1);
  let from = 0;
  let bestFrom = 0;
  let bestTo = 0;
  for (let k = 0; k <= intervals.length; k++) {
    const even =
      k < intervals.length &&
      Math.abs(intervals[k] - typical) <=
        Math.max(settings.pulseIntervalSpread * typical, settings.pulse.resolution * resolvable);
    if (even) continue;
    if (k - from > bestTo - bestFrom) {
      bestFrom = from;
      bestTo = k;
    }
    from = k + 1;
  }
  const run = intervals.slice(bestFrom, bestTo);
  if (run.length < 2) return null;
  const period = run.reduce((sum, x) => sum + x, 0) / run.length;
  const jitter = Math.sqrt(run.reduce((sum, x) => sum + (x - period) ** 2, 0) / run.length) / period;
  const few = run.length < settings.pulse.fewIntervals;
  if (few && (jitter > settings.pulse.fewJitter || period < 1)) return null;
  if (!repeatsTheSame(up, down, bestFrom, bestTo, resolvable)) return null;
  const t0 = up[bestFrom];
  const t1 = Math.min(t[n - 1], up[bestTo] + period);
  const lastDown = down.length > 0 ? down[down.length - 1] : t0;
  const active = Math.max(up[up.length - 1], lastDown) - Math.min(up[0], down[0] ?? Infinity);
  const covered = (up[bestTo] - t0 + 0.5 * period) / Math.max(active, period);
  if (
    covered < settings.pulseLeastCover &&
    !(run.length >= settings.pulse.manyIntervals && covered > settings.pulse.manyCover)
  )
    return null;
  return { t0, t1, periodS: period, count: run.length + 1, jitter };
}

/** A repetition repeats the same piece: the excursions last about equally long. */
function repeatsTheSame(up: Float64Array, down: Float64Array, from: number, to: number, resolvable: number): boolean {
  const widths: number[] = [];
  for (let k = from; k < to; k++) {
    const end = down.find((t) => t > up[k]);
    if (end !== undefined) widths.push(end - up[k]);
  }
  if (widths.length < 2) return true;
  const typical = median(widths);
  const deviations = widths.map((w) => Math.abs(w - typical));
  const spread = widths.length < settings.pulse.fewWidths ? Math.max(...deviations) : median(deviations);
  return spread <= Math.max(settings.pulse.widthSpread * typical, settings.pulse.resolution * resolvable);
}

function describe(t: Float64Array, y: Float32Array, found: Sequence, base: number, height: number, noise: number) {
  const from = lowerBound(t, found.t0);
  const to = Math.max(from, lowerBound(t, found.t1));
  const part = y.subarray(from, to);
  const sample = everyNth(part, Math.max(1, Math.floor(part.length / maxSampled)));
  const lowA = quantile(sample, settings.pulse.lowQuantile);
  const highA = quantile(sample, settings.pulse.highQuantile);
  let above = 0;
  for (const value of sample) if (value > base + 0.5 * height) above++;
  const plateau =
    height < settings.pulse.plateauNoise * noise
      ? null
      : plateauShare(t.subarray(from, to), part, found.periodS, height, noise);
  return {
    duty: sample.length === 0 ? 0 : above / sample.length,
    lowA,
    highA,
    plateau,
    flatTop: flatTop(sample, base + 0.5 * height, height),
  };
}

/** Share of the samples above a level that stand within a tenth of the height of their middle. */
function flatTop(sample: Float32Array, level: number, height: number): number {
  const above = sample.filter((x) => x > level);
  if (above.length === 0) return 0;
  const middle = median(above);
  return above.filter((x) => Math.abs(x - middle) < settings.pulse.flatWithin * height).length / above.length;
}

/**
 * Share of the samples around which the value stands still: within a window of a twelfth of a period it moves by less
 * than a sixteenth of the height. A square wave or a staircase scores high, a sine about 0.15.
 *
 * @returns null where the samples are too sparse to tell
 */
function plateauShare(t: Float64Array, y: Float32Array, periodS: number, height: number, noise: number): number | null {
  const n = t.length;
  const perPeriod = (n * periodS) / (t[n - 1] - t[0]);
  if (n < settings.pulse.plateauSamples || perPeriod < settings.pulse.plateauPerPeriod) return null;
  const window = Math.max(1, Math.round(perPeriod / settings.pulse.plateauWindows));
  const step = Math.max(1, Math.floor(n / settings.pulse.plateauLooks));
  const inner = Math.max(1, Math.floor(window / settings.pulse.plateauInner));
  // With few samples a period one step of a sine is a larger share of its height.
  const tolerance = Math.max(
    height / (window === 1 ? settings.pulse.coarseTolerance : settings.pulse.tolerance),
    settings.pulse.toleranceNoise * noise,
  );
  // The steepest step that a sine of this height and period takes between two looks.
  const swing = (Math.PI * height * inner) / perPeriod;
  const leap = Math.max(
    settings.pulse.leapSwing * swing,
    settings.pulse.leapHeight * height,
    settings.pulse.leapNoise * noise,
  );
  let still = 0;
  let seen = 0;
  for (let k = 0; k + window < n; k += step) {
    let low = Infinity;
    let high = -Infinity;
    for (let j = k; j <= k + window; j += inner) {
      if (y[j] < low) low = y[j];
      if (y[j] > high) high = y[j];
    }
    let leaps = false;
    for (let j = k; j + inner <= k + window && !leaps; j += inner) leaps = Math.abs(y[j + inner] - y[j]) > leap;
    seen++;
    if (high - low < tolerance || leaps) still++;
  }
  return seen === 0 ? null : still / seen;
}
