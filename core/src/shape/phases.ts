import { pieceSeconds, zeroLevel, type Channels, type Piece } from './pieces.ts';
import settings from './settings.json';
import type { Segmentation } from './segments.ts';
import type { Phase, Pulses } from './types.ts';

interface Part {
  piece: Piece;
  t0: number;
  t1: number;
  seconds: number;
  watts: number;
}

/**
 * What the current did between two instants.
 *
 * @param found the segmented run
 * @param t0 start of the phase in seconds
 * @param t1 end in seconds
 * @param feedV volts to reckon the power with where none were recorded
 * @param options `skipInrush` leaves out a short spike at the very start, where capacitors fill; `fromA` is the level
 *   before the phase, from which its steps are counted (null: its own first level)
 */
export function describePhase(
  found: Segmentation,
  t0: number,
  t1: number,
  feedV: number,
  resolutionA: number,
  options: { skipInrush: boolean; fromA: number | null },
): Phase {
  const c = found.channels;
  let parts = partsBetween(found, t0, t1, feedV);
  if (options.skipInrush && parts.length > 1) {
    const calm = parts.filter((p) => !(p.t0 < t0 + settings.inrushS && p.seconds < settings.inrushS));
    if (calm.length > 0 && calm.reduce((sum, p) => sum + p.seconds, 0) > 0.5) parts = calm;
  }
  const unmeasured = found.unmeasuredLimits.reduce(
    (sum, s) => sum + Math.max(0, Math.min(s.t1, t1) - Math.max(s.t0, t0)),
    0,
  );
  const seconds = parts.reduce((sum, p) => sum + p.seconds, 0) + unmeasured;
  const share = (kind: Piece['kind']): number =>
    seconds === 0 ? 0 : parts.filter((p) => p.piece.kind === kind).reduce((sum, p) => sum + p.seconds, 0) / seconds;
  const zero = zeroLevel(c, resolutionA);
  const peak = parts.reduce<Part | null>(
    (best, p) => (best === null || p.piece.high > best.piece.high ? p : best),
    null,
  );
  const level = weightedMedian(parts);
  const tail = tailOf(parts);
  return {
    seconds,
    samples: parts.reduce((sum, p) => sum + (p.piece.to - p.piece.from), 0),
    levelA: level?.piece.mean ?? null,
    levelW: level?.watts ?? null,
    peakA: peak?.piece.high ?? null,
    peakW: peak ? peak.piece.high * voltsOf(peak.piece, feedV) : null,
    peakAfterS: peak ? peak.t0 - t0 : null,
    riseAfterS: firstRise(parts, t0, c.noise),
    tailA: tail?.piece.mean ?? null,
    tailW: tail?.watts ?? null,
    tailSeconds: tail ? holdSeconds(parts, tail) : 0,
    tailKind: tail?.piece.kind ?? null,
    topHoldS: longestTop(parts),
    ...countSteps(parts, c.noise, options.fromA ?? parts[0]?.piece.mean ?? 0, zero, t0),
    reversals: Math.max(
      countReversals(heightsOf(parts), Math.max(c.noise, resolutionA)),
      countReversals(readingsBetween(c, t0, t1), settings.reversalDigits * resolutionA),
    ),
    limitShare: share('limit') + (seconds === 0 ? 0 : unmeasured / seconds),
    burstShare: share('bursts'),
    zeroShare: share('zero'),
    levelShare: share('level'),
    rampShare: share('ramp'),
    pulses: within(found.pulses, t0, t1),
    dropOuts: countDropOuts(parts, zero),
  };
}

function voltsOf(p: Piece, feedV: number): number {
  return p.meanV ?? feedV;
}

function partsBetween(found: Segmentation, t0: number, t1: number, feedV: number): Part[] {
  const c = found.channels;
  const out: Part[] = [];
  for (const piece of found.pieces) {
    const from = Math.max(t0, c.t[piece.from]);
    const to = Math.min(t1, c.t[piece.from] + pieceSeconds(c, piece));
    const last = piece.to === c.t.length && to >= c.t[piece.to - 1] && from <= to;
    const seconds = to - from + (last ? c.interval || 0 : 0);
    // Where a phase ends within half an interval of a piece's first reading, it ends there.
    if (seconds <= 0 || (!last && seconds < settings.boundaryShare * c.interval)) continue;
    out.push({ piece, t0: from, t1: to, seconds, watts: piece.watts ?? piece.mean * feedV });
  }
  return out;
}

function weightedMedian(parts: Part[]): Part | null {
  const total = parts.reduce((sum, p) => sum + p.seconds, 0);
  const sorted = [...parts].sort((a, b) => a.piece.mean - b.piece.mean);
  let run = 0;
  for (const part of sorted) {
    run += part.seconds;
    if (run >= total / 2) return part;
  }
  return null;
}

/** The hold at the end; a brief last piece (the hand on the off key) is passed over. */
function tailOf(parts: Part[]): Part | null {
  if (parts.length === 0) return null;
  const total = parts.reduce((sum, p) => sum + p.seconds, 0);
  let at = parts.length - 1;
  while (at > 0 && parts[at].seconds < Math.min(settings.offKeyShare * total, 1) && parts[at].piece.kind !== 'pulses')
    at--;
  return parts[at];
}

/** How long the hold at the end lasts: a level that wanders by a few percent is one hold, however many pieces it was cut into. */
function holdSeconds(parts: Part[], tail: Part): number {
  const isSame = (p: Part): boolean =>
    p.piece.kind === tail.piece.kind &&
    Math.abs(p.piece.mean - tail.piece.mean) <= settings.holdWanders * Math.abs(tail.piece.mean);
  let from = parts.indexOf(tail);
  while (from > 0 && tail.piece.kind === 'level' && isSame(parts[from - 1])) from--;
  return parts.slice(from, parts.indexOf(tail) + 1).reduce((sum, p) => sum + p.seconds, 0);
}

function firstRise(parts: Part[], t0: number, noise: number): number | null {
  for (let k = 0; k < parts.length; k++) {
    const base = k === 0 ? 0 : parts[k - 1].piece.mean;
    const rise = parts[k].piece.high - base;
    if (k > 0 && rise > Math.max(settings.clearNoise * noise, settings.firstRise * base, settings.firstRiseA))
      return parts[k].t0 - t0;
  }
  return null;
}

/** Longest stand at the height of the phase's peak, seconds. */
function longestTop(parts: Part[]): number {
  const peak = Math.max(0, ...parts.map((p) => p.piece.high));
  const standing = parts.filter(
    (p) => (p.piece.kind === 'level' || p.piece.kind === 'limit') && p.piece.mean >= settings.topFrom * peak,
  );
  return Math.max(0, ...standing.map((p) => p.seconds));
}

function countSteps(parts: Part[], noise: number, from: number, zero: number, t0: number) {
  let steps = 0;
  let lastStepAfterS: number | null = null;
  let highest = Math.max(zero, from);
  for (const { piece, t0: at } of parts) {
    if (piece.mean > highest * settings.stepFactor + settings.stepNoise * noise) {
      steps++;
      highest = piece.mean;
      lastStepAfterS = at - t0;
    }
  }
  return { steps, lastStepAfterS };
}

/** A height that stood for a while: amperes, seconds. */
interface Height {
  mean: number;
  seconds: number;
}

const heightsOf = (parts: readonly Part[]): Height[] =>
  parts.flatMap(({ piece, seconds }) => (piece.kind === 'pulses' ? [] : [{ mean: piece.mean, seconds }]));

/** Every reading of a slow display as a height of its own: what wobbles from one to the next moves. None for a fast instrument. */
function readingsBetween(c: Channels, t0: number, t1: number): Height[] {
  if (c.interval < settings.reversalLeastS) return [];
  const out: Height[] = [];
  for (let k = 0; k < c.t.length; k++)
    if (c.t[k] >= t0 && c.t[k] <= t1) out.push({ mean: c.y[k], seconds: c.interval });
  return out;
}

/**
 * How often the level turns round, from rising to falling and back, by a share that no freeze moves and by more than a digit. What
 * falls to a small part of its height begins again: that is no movement of one start.
 */
function countReversals(heights: readonly Height[], minA: number): number {
  let [reversals, direction, height] = [0, 0, 0];
  let extreme = heights[0]?.mean ?? 0;
  for (const { mean, seconds } of heights) {
    if (seconds < settings.reversalLeastS) continue;
    height = Math.max(height, mean);
    const step = mean - extreme;
    const way = Math.sign(step);
    const isClear =
      Math.abs(step) > settings.reversalNoise * minA &&
      Math.abs(step) > settings.reversal * Math.min(Math.abs(extreme), Math.abs(mean));
    if (isClear && direction !== 0 && way !== direction) reversals++;
    if (isClear) direction = way;
    if (isClear || way === direction) extreme = mean;
    if (mean < settings.beginsAgainUnder * height) [reversals, height] = [0, mean];
  }
  return reversals;
}

/** Falls to nothing from well up with a return to something, outside regular repetitions. */
function countDropOuts(parts: Part[], zero: number): number {
  const least = settings.dropsFrom * Math.max(0, ...parts.map((p) => p.piece.mean));
  let drops = 0;
  let height = 0;
  let down = false;
  for (const { piece } of parts) {
    if (piece.kind === 'pulses') {
      down = false;
      height = 0;
      continue;
    }
    const isDown = piece.mean <= Math.max(zero, settings.droppedTo * height);
    if (down && !isDown) drops++;
    if (!isDown) height = Math.max(height, piece.mean);
    down = isDown && height > least;
  }
  return drops;
}

function within(pulses: Pulses | null, t0: number, t1: number): Pulses | null {
  if (!pulses) return null;
  const overlap = Math.min(pulses.t1, t1) - Math.max(pulses.t0, t0);
  return overlap > settings.withinPeriods * pulses.periodS || overlap > settings.withinShare * (pulses.t1 - pulses.t0)
    ? pulses
    : null;
}
