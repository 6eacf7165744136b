import { evenIndices, quantileOfSorted, robustSpreadOfSorted } from '../trace/index.ts';
import settings from './settings.json';
import type { SegmentKind } from './types.ts';

/** The channels of a run with the rows that hold no value left out. */
export interface Channels {
  t: Float64Array;
  /** The channel that is segmented: amperes, or volts for a voltage-only run. */
  y: Float32Array;
  /** Volts beside it, NaN where absent. */
  v: Float32Array;
  noise: number;
  noiseV: number;
  interval: number;
}

/** A stretch between two changes, with what is needed to name it. Indices into the channels, `to` exclusive. */
export interface Piece {
  from: number;
  to: number;
  kind: SegmentKind | null;
  mean: number;
  spread: number;
  low: number;
  high: number;
  /** Change along a fitted line from start to end, and the share of the variance that the line explains. */
  rise: number;
  fit: number;
  meanV: number | null;
  watts: number | null;
  periodS: number | null;
  duty: number | null;
}

const SAMPLED = 400;

/**
 * Measures the stretch [from, to) of the channels.
 *
 * @param c times in seconds, the segmented channel, the voltage beside it
 * @param from index of the first sample
 * @param to index after the last, above `from`
 */
export function measurePiece(c: Channels, from: number, to: number): Piece {
  let sum = 0;
  let sumV = 0;
  let sumW = 0;
  let countV = 0;
  for (let k = from; k < to; k++) {
    const value = c.y[k];
    sum += value;
    const volts = c.v[k];
    if (volts === volts) {
      sumV += volts;
      sumW += volts * value;
      countV++;
    }
  }
  const picked = evenIndices(from, to, SAMPLED);
  const sorted = new Float64Array(picked.length);
  for (let k = 0; k < picked.length; k++) sorted[k] = c.y[picked[k]];
  sorted.sort();
  return {
    from,
    to,
    kind: null,
    mean: sum / (to - from),
    spread: sorted.length > 1 ? robustSpreadOfSorted(sorted) : 0,
    low: quantileOfSorted(sorted, settings.lowQuantile),
    high: quantileOfSorted(sorted, settings.highQuantile),
    ...lineThrough(c.t, c.y, picked),
    meanV: countV === 0 ? null : sumV / countV,
    watts: countV === 0 ? null : sumW / countV,
    periodS: null,
    duty: null,
  };
}

/** Least-squares line through the picked samples. */
function lineThrough(t: Float64Array, y: Float32Array, picked: Int32Array): { rise: number; fit: number } {
  const n = picked.length;
  if (n < 2) return { rise: 0, fit: 0 };
  if (n < settings.minLineSamples) return { rise: y[picked[n - 1]] - y[picked[0]], fit: 0 };
  let meanT = 0;
  let meanY = 0;
  for (const k of picked) {
    meanT += t[k] / n;
    meanY += y[k] / n;
  }
  let tt = 0;
  let ty = 0;
  let yy = 0;
  for (const k of picked) {
    tt += (t[k] - meanT) ** 2;
    ty += (t[k] - meanT) * (y[k] - meanY);
    yy += (y[k] - meanY) ** 2;
  }
  if (tt === 0 || yy === 0) return { rise: 0, fit: 0 };
  const span = t[picked[n - 1]] - t[picked[0]];
  return { rise: (ty / tt) * span, fit: (ty * ty) / (tt * yy) };
}

/**
 * How long a piece lasts, up to the next sample, s.
 *
 * @param c the channels that are segmented
 * @param p a piece of them
 */
export function pieceSeconds(c: Channels, p: Piece): number {
  const end = p.to < c.t.length ? c.t[p.to] : c.t[p.to - 1];
  return end - c.t[p.from];
}

/** True where two levels are one: within noise or a few percent of each other, at the same voltage. */
export function sameLevel(c: Channels, a: Piece, b: Piece): boolean {
  const size = Math.max(Math.abs(a.mean), Math.abs(b.mean));
  const close = Math.abs(a.mean - b.mean) <= Math.max(settings.mergeNoise * c.noise, settings.mergeRelative * size);
  return close && sameVoltage(c, a, b);
}

/**
 * True where two pieces were fed with one voltage, within noise or a few percent; also where none was measured.
 *
 * @param c the channels that are segmented
 * @param a a piece
 * @param b another
 */
export function sameVoltage(c: Channels, a: Piece, b: Piece): boolean {
  if (a.meanV === null || b.meanV === null) return true;
  const size = Math.max(Math.abs(a.meanV), Math.abs(b.meanV));
  return Math.abs(a.meanV - b.meanV) <= Math.max(settings.levelNoise * c.noiseV, settings.mergeRelative * size);
}

/** A piece that climbs or falls steadily rather than standing. */
export function isSlope(c: Channels, p: Piece): boolean {
  return (
    p.fit > settings.slopeFit &&
    Math.abs(p.rise) > Math.max(settings.levelNoise * c.noise, settings.slopeRise * Math.abs(p.mean))
  );
}

/** A piece whose spread is activity rather than noise. */
export function isBusy(c: Channels, p: Piece): boolean {
  return (
    p.spread > Math.max(settings.levelNoise * c.noise, settings.burstRelativeSpread * Math.abs(p.mean)) &&
    !isSlope(c, p)
  );
}

/**
 * A level that means nothing flows, for this instrument.
 *
 * @param c the channels that are segmented
 * @param resolutionA smallest step of the instrument, A
 * @returns amperes
 */
export function zeroLevel(c: Channels, resolutionA: number): number {
  return Math.max(
    settings.zeroA,
    settings.zeroResolution * resolutionA,
    Math.min(settings.zeroNoise * c.noise, settings.zeroUpToA),
  );
}
