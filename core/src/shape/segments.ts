import { noiseFloor, samplingInterval, type Span, type Trace } from '../trace/index.ts';
import { findChanges, findStretches } from './changes.ts';
import { dropEdges, dropSpikes, joinBursts, joinLevels, joinRamps, joinSlides } from './merge.ts';
import { measurePiece, zeroLevel, type Channels, type Piece } from './pieces.ts';
import { findPulses } from './pulses.ts';
import settings from './settings.json';
import type { Pulses, Segment } from './types.ts';

export interface Segmentation {
  channels: Channels;
  pieces: Piece[];
  segments: Segment[];
  pulses: Pulses | null;
  /** Where the source was in its limit but the current is not known. */
  unmeasuredLimits: Span[];
}

/** Leaves out the rows without a value in the channel that is segmented. */
function compactChannels(trace: Trace): Channels {
  const primary = trace.quantity === 'voltage-only' ? trace.v : trace.i;
  const resolution = trace.quantity === 'voltage-only' ? trace.instrument.resolutionV : trace.instrument.resolutionA;
  let count = 0;
  for (let k = 0; k < primary.length; k++) if (primary[k] === primary[k]) count++;
  const whole = count === primary.length;
  const t = whole ? trace.t : new Float64Array(count);
  const y = whole ? primary : new Float32Array(count);
  const v = whole ? trace.v : new Float32Array(count);
  if (!whole) {
    let at = 0;
    for (let k = 0; k < primary.length; k++) {
      if (primary[k] !== primary[k]) continue;
      t[at] = trace.t[k];
      y[at] = primary[k];
      v[at] = trace.v[k];
      at++;
    }
  }
  return {
    t,
    y,
    v,
    noise: noiseFloor(y, resolution),
    noiseV: noiseFloor(v, trace.instrument.resolutionV),
    interval: samplingInterval(t),
  };
}

/**
 * Cuts a corrected run into segments that behave as one, and names their kinds.
 *
 * @param trace a run in true volts and amperes
 * @returns the segments in order without overlap, gaps included, and the pieces and channels they came from
 */
export function segmentTrace(trace: Trace): Segmentation {
  const c = compactChannels(trace);
  const pulses = findPulses(c.t, c.y, c.noise);
  const joined: Piece[] = [];
  for (const stretch of findStretches(c.t, c.interval)) {
    const cuts = new Set(findChanges(c.y, stretch, c.noise));
    if (trace.quantity === 'current') {
      for (const cut of voltageCuts(c, stretch.from, stretch.to)) {
        if (![...cuts].some((other) => Math.abs(other - cut) <= 2)) cuts.add(cut);
      }
    }
    const edges = [stretch.from, ...[...cuts].sort((a, b) => a - b), stretch.to];
    let pieces = edges.slice(1).map((to, k) => measurePiece(c, edges[k], to));
    pieces = markPulses(c, pieces, pulses);
    pieces = dropSpikes(c, pieces);
    pieces = dropEdges(c, joinRamps(c, joinSlides(c, pieces)));
    pieces = joinLevels(c, pieces);
    pieces = joinBursts(c, pieces, trace.instrument.kind === 'eye');
    joined.push(...joinLevels(c, pieces));
  }
  for (const piece of joined) piece.kind ??= standingKind(piece, c, trace);
  const segments = withGaps(joined, c, trace);
  const unmeasuredLimits = segments
    .filter((s) => s.kind === 'limit' && s.meanA === null)
    .map(({ t0, t1 }) => ({ t0, t1 }));
  return { channels: c, pieces: joined, segments, pulses, unmeasuredLimits };
}

function voltageCuts(c: Channels, from: number, to: number): number[] {
  for (let k = from; k < to; k++) if (c.v[k] !== c.v[k]) return [];
  return findChanges(c.v, { from, to }, c.noiseV * settings.voltageCutNoise);
}

/** Everything within a regular repetition is one piece. */
function markPulses(c: Channels, pieces: Piece[], pulses: Pulses | null): Piece[] {
  if (!pulses || pieces.length === 0) return pieces;
  const start = pieces[0].from;
  const end = pieces[pieces.length - 1].to;
  let from = start;
  while (from < end && c.t[from] < pulses.t0) from++;
  from = startOfFirst(c, pieces, pulses, from);
  let to = from;
  while (to < end && c.t[to] <= pulses.t1) to++;
  if (to - from < settings.minSamples) return pieces;
  const out: Piece[] = [];
  for (const p of pieces) if (p.from < from) out.push(p.to <= from ? p : measurePiece(c, p.from, from));
  out.push({ ...measurePiece(c, from, to), kind: 'pulses', periodS: pulses.periodS, duty: pulses.duty });
  for (const p of pieces) if (p.to > to) out.push(p.from >= to ? p : measurePiece(c, to, p.to));
  return out;
}

/** The repetition is timed where it crosses a height; the first one began a little earlier, at its first rise. */
function startOfFirst(c: Channels, pieces: Piece[], pulses: Pulses, from: number): number {
  const rest = pulses.lowA + settings.pulseRest * (pulses.highA - pulses.lowA) + c.noise;
  let start = from;
  for (const p of [...pieces].reverse()) {
    if (p.from >= start || p.to > from + 1) {
      if (p.from < start && p.to > start && p.mean > rest) start = Math.min(start, p.from);
      continue;
    }
    if (p.mean <= rest || pulses.t0 - c.t[p.from] > settings.firstPulsePeriods * pulses.periodS) break;
    start = p.from;
  }
  return pulses.t0 - c.t[start] > settings.firstPulsePeriods * pulses.periodS ? from : start;
}

function standingKind(p: Piece, c: Channels, trace: Trace): Segment['kind'] {
  if (trace.quantity === 'voltage-only') return Math.abs(p.mean) < settings.voltagePresent ? 'zero' : 'level';
  const resolution = trace.instrument.resolutionA ?? 0;
  if (Math.abs(p.mean) <= zeroLevel(c, resolution)) return 'zero';
  return atLimit(p, c, trace) ? 'limit' : 'level';
}

/** In the limit: at the stated limit, or the voltage has given way while the current stands. */
function atLimit(p: Piece, c: Channels, trace: Trace): boolean {
  const middle = (c.t[p.from] + c.t[p.to - 1]) / 2;
  if (trace.limitSpans.some((span) => middle >= span.t0 && middle <= span.t1)) return true;
  const { limitA, setV, feed } = trace;
  // What a person reads off a display is the limit to the digit, or it is another number.
  const blur = isMeasuredV(trace) ? (1 - settings.limitShare) * (limitA ?? 0) : 0;
  const slack = limitA === null ? 0 : Math.max(blur, trace.instrument.resolutionA ?? 0);
  const atStated = limitA !== null && p.mean >= limitA - slack;
  // Below what any device runs on a supply is in its limit, whatever was said of it.
  const minV = setV !== null ? settings.saggedTo * setV : feed === 'battery' ? settings.noDeviceRunsUnderV : 0;
  const sagged = p.meanV !== null && feed !== 'usb-c' && p.meanV < minV && p.meanV > 0;
  // At its limit a supply lets go of its voltage: a draw that happens to lie near the limit with the voltage held is no limit.
  const holds =
    setV !== null &&
    p.meanV !== null &&
    feed !== 'usb-c' &&
    isMeasuredV(trace) &&
    p.meanV > settings.heldAtLimit * setV;
  if (atStated) return !holds;
  return limitA === null && sagged && p.mean > settings.saggedFromA;
}

/** Typed lines say what a supply was set to, and not what it gave. */
const isMeasuredV = ({ instrument }: Trace): boolean => instrument.kind !== 'eye';

function withGaps(pieces: Piece[], c: Channels, trace: Trace): Segment[] {
  const { t } = trace;
  if (t.length === 0) return [];
  const first = t[0];
  const last = t[t.length - 1];
  const out: Segment[] = [];
  let at = first;
  const fill = (t0: number, t1: number): void => {
    const isLimit = trace.limitSpans.length > 0;
    if (t1 <= t0 || (!isLimit && pieces.length > 0 && t1 - t0 <= pauseOf(c))) return;
    const span = trace.limitSpans.find((s) => overlap(s, { t0, t1 }) > 0.5 * (t1 - t0));
    if (span) out.push({ ...emptySegment, kind: 'limit', t0, t1 });
    else out.push({ ...emptySegment, kind: 'gap', t0, t1 });
  };
  pieces.forEach((p, k) => {
    const t0 = c.t[p.from];
    if (t0 > at) fill(at, t0);
    const next = pieces[k + 1];
    const touching = next !== undefined && next.from === p.to && c.t[next.from] - c.t[p.to - 1] <= pauseOf(c);
    const t1 = touching ? c.t[next.from] : c.t[p.to - 1];
    out.push(asSegment(p, t0, t1, trace));
    at = t1;
  });
  if (last > at + (c.interval || 0) * settings.pauseIntervals) fill(at, last);
  if (pieces.length === 0 && out.length === 0) fill(first, Math.max(last, first));
  return out;
}

function pauseOf(c: Channels): number {
  return Math.max(settings.gapLeastS, settings.gapIntervals * (c.interval || 0));
}

function overlap(a: Span, b: Span): number {
  return Math.min(a.t1, b.t1) - Math.max(a.t0, b.t0);
}

const emptySegment = { meanA: null, meanV: null, watts: null, spreadA: null, periodS: null, duty: null };

function asSegment(p: Piece, t0: number, t1: number, trace: Trace): Segment {
  if (trace.quantity === 'voltage-only') {
    return { ...emptySegment, kind: p.kind ?? 'level', t0, t1, meanV: p.mean, periodS: p.periodS, duty: p.duty };
  }
  const assumedV = p.meanV ?? trace.setV;
  return {
    kind: p.kind ?? 'level',
    t0,
    t1,
    meanA: p.mean,
    meanV: p.meanV,
    watts: p.watts ?? (assumedV === null ? null : assumedV * p.mean),
    spreadA: p.spread,
    periodS: p.periodS,
    duty: p.duty,
  };
}
