import { featureTypes } from './features.ts';
import { courseLength } from './course.ts';
import settings from './settings.json';
import type { Signature } from './signature.ts';

const { course } = settings;
export const featureCount = featureTypes.length;
export const variances: Float64Array = Float64Array.from(featureTypes, (t) => settings.scales[t.scale] ** 2);
const onlyOne = settings.onlyOne ** 2;

/** What one squared step between two courses counts: places of a course are not independent of each other. */
export const courseFactor = course.worth / courseLength / course.scale ** 2;
export const courseBand = course.band;

/** Squared distance that stands for the courses where one of two runs was typed and has none. */
export const courseAbsent = settings.untimedCourse ** 2;

/**
 * Squared distance of two feature lists: squared differences in standard deviations of what two units with one fault show,
 * widened by what both instruments blur. What only one of them has counts a fixed step.
 *
 * @param a features and blurs of a run from place `i`
 * @param b those of another from place `j`
 */
export function featureDistance(a: Packed, i: number, b: Packed, j: number): number {
  let sum = 0;
  for (let f = 0; f < featureCount; f++) {
    const d = a.features[i + f] - b.features[j + f];
    if (d === d) {
      const p = a.blurs[i + f];
      const q = b.blurs[j + f];
      sum += (d * d) / (variances[f] + p * p + q * q);
    } else if (Number.isNaN(a.features[i + f]) !== Number.isNaN(b.features[j + f])) sum += onlyOne;
  }
  return sum;
}

export interface Packed {
  features: Float32Array;
  blurs: Float32Array;
}

/**
 * Dynamic time warping within a band (Sakoe & Chiba 1978), given up as soon as no path can stay under `limit`.
 *
 * @param a course from place `i`
 * @param b course from place `j`
 * @param limit sum of squares from which the answer does not matter
 * @param rests what the places from k on cost at least, by k; zeros where nothing is known
 * @param rows two rows of `courseLength + 1`, written over
 * @returns the least sum of squared steps; infinite where it is not under `limit`
 * @see Rakthanmanon et al., Searching and mining trillions of time series subsequences, KDD 2012
 */
export function warpedDistance(
  a: Float32Array,
  i: number,
  b: Float32Array,
  j: number,
  limit: number,
  rests: Float64Array,
  rows: readonly [Float64Array, Float64Array],
): number {
  const n = courseLength;
  let [previous, current] = rows;
  previous.fill(Number.POSITIVE_INFINITY);
  previous[0] = 0;
  for (let r = 0; r < n; r++) {
    const from = Math.max(0, r - courseBand);
    const to = Math.min(n - 1, r + courseBand);
    current[from] = Number.POSITIVE_INFINITY;
    let least = Number.POSITIVE_INFINITY;
    for (let c = from; c <= to; c++) {
      const d = a[i + r] - b[j + c];
      let best = previous[c];
      if (previous[c + 1] < best) best = previous[c + 1];
      if (current[c] < best) best = current[c];
      const cost = best + d * d;
      current[c + 1] = cost;
      if (cost < least) least = cost;
    }
    if (to + 2 <= n) current[to + 2] = Number.POSITIVE_INFINITY;
    // Rows ahead cost at least what their own lower bound says; those within the band may be used already.
    if (least + rests[Math.min(n, r + 1)] >= limit) return Number.POSITIVE_INFINITY;
    [previous, current] = [current, previous];
  }
  return previous[n] < limit ? previous[n] : Number.POSITIVE_INFINITY;
}

const scratch: readonly [Float64Array, Float64Array] = [
  new Float64Array(courseLength + 2),
  new Float64Array(courseLength + 2),
];
const nothingKnown = new Float64Array(courseLength + 1);

/**
 * Squared distance of two runs in standard deviations of what two units with one fault show: features and course.
 *
 * @returns 0 for the same run; at 1 they are as near as two units with the same fault usually are
 */
export function distanceOf(a: Signature, b: Signature): number {
  const features = featureDistance(a, 0, b, 0);
  if (a.course.length === 0 || b.course.length === 0) return features + courseAbsent;
  return (
    features + courseFactor * warpedDistance(a.course, 0, b.course, 0, Number.POSITIVE_INFINITY, nothingKnown, scratch)
  );
}
