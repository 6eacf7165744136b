import { median, quantile } from './statistics.ts';

/** Finest step that a meter shows, in its unit. */
const minStepA = 5e-5;
/** Coarsest step that is a resolution and not a level. */
const maxStepA = 0.02;

const SAMPLED_DIFFERENCES = 8_000;

/** Where the absolute value of a normal deviate lies in 30 of 100 cases. */
const lowerQuantile = { share: 0.3, deviate: 0.3853 };
/** An instrument that shows steps of its resolution is rarely noisier than a few of them; the rest is the device. */
const maxSteps = 6;

/**
 * Noise floor of one channel: the spread of successive differences, divided by the root of two since a difference
 * holds the noise of two samples; never under the resolution of the instrument. Differences see through steps and
 * slow drift, and their lower quantile sees through activity of the device.
 *
 * @param samples channel in its unit, NaN where absent
 * @param resolution smallest step of the instrument in the same unit, null where unknown (then it is read off the
 *   samples: the smallest step that occurs)
 * @returns standard deviation in the unit of the samples, above 0
 */
export function noiseFloor(samples: Float32Array, resolution: number | null): number {
  const n = samples.length;
  const stride = Math.max(1, Math.floor(n / SAMPLED_DIFFERENCES));
  const differences: number[] = [];
  let smallestStep = Infinity;
  let largest = 0;
  for (let k = 1; k < n; k += stride) {
    const d = Math.abs(samples[k] - samples[k - 1]);
    if (!Number.isFinite(d)) continue;
    differences.push(d);
    const size = Math.abs(samples[k]);
    if (size > largest) largest = size;
    if (d > size * 1e-5 && d > 1e-6 && d < smallestStep) smallestStep = d;
  }
  const spread =
    differences.length === 0 ? 0 : quantile(differences, lowerQuantile.share) / lowerQuantile.deviate / Math.SQRT2;
  const step =
    resolution ?? (smallestStep >= minStepA && Number.isFinite(smallestStep) ? Math.min(smallestStep, maxStepA) : 0);
  const capped = step > 0 ? Math.min(spread, maxSteps * step) : spread;
  return Math.max(capped, step, largest * 1e-6, 1e-5);
}

/**
 * Median time between rows in seconds; NaN for fewer than two rows.
 *
 * @param t seconds, rising
 */
export function samplingInterval(t: Float64Array): number {
  const n = t.length;
  if (n < 2) return NaN;
  const stride = Math.max(1, Math.floor(n / SAMPLED_DIFFERENCES));
  const steps: number[] = [];
  for (let k = 1; k < n; k += stride) steps.push(t[k] - t[k - 1]);
  return median(steps);
}
