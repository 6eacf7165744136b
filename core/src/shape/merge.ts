import {
  isBusy,
  measurePiece,
  pieceSeconds,
  sameLevel,
  sameVoltage,
  isSlope,
  type Channels,
  type Piece,
} from './pieces.ts';
import settings from './settings.json';

/** Joins neighbours while `join` says so; the joined piece is measured anew. */
function joinNeighbours(c: Channels, pieces: Piece[], join: (a: Piece, b: Piece) => boolean): Piece[] {
  const out: Piece[] = [];
  for (const piece of pieces) {
    const last = out[out.length - 1];
    if (last && last.to === piece.from && join(last, piece)) {
      out[out.length - 1] = { ...measurePiece(c, last.from, piece.to), kind: last.kind };
    } else out.push(piece);
  }
  return out;
}

/**
 * A very short excursion between two equal levels is a spike of the instrument (range switching), not a level.
 *
 * @param c the channels that are segmented
 * @param pieces in the order of time
 */
export function dropSpikes(c: Channels, pieces: Piece[]): Piece[] {
  if (c.interval > settings.spikesUpToIntervalS) return pieces;
  const out: Piece[] = [];
  for (let k = 0; k < pieces.length; k++) {
    const before = out[out.length - 1];
    const piece = pieces[k];
    const after = pieces[k + 1];
    const brief = piece.to - piece.from <= settings.spikeSamples && pieceSeconds(c, piece) < settings.spikeS;
    if (
      before &&
      after &&
      brief &&
      before.to === piece.from &&
      piece.to === after.from &&
      sameLevel(c, before, after)
    ) {
      const joined = measurePiece(c, before.from, after.to);
      out[out.length - 1] = {
        ...joined,
        mean: before.mean,
        meanV: before.meanV,
        watts: before.watts,
        high: before.high,
      };
      k++;
    } else out.push(piece);
  }
  return out;
}

/** A sample or two on the way between two levels is the instrument's averaging, not a level: it goes to the later one. */
export function dropEdges(c: Channels, pieces: Piece[]): Piece[] {
  const out: Piece[] = [];
  for (let k = 0; k < pieces.length; k++) {
    const before = out[out.length - 1];
    const piece = pieces[k];
    const after = pieces[k + 1];
    const brief = piece.to - piece.from <= 2 && pieceSeconds(c, piece) < settings.edgeS && piece.kind === null;
    const touching = before && after && before.to === piece.from && piece.to === after.from;
    const between = touching && (piece.mean - before.mean) * (after.mean - piece.mean) > 0;
    if (
      brief &&
      between &&
      (after.kind === null || after.kind === 'pulses') &&
      after.to - after.from > settings.edgeAfterSamples
    ) {
      out.push({ ...after, from: piece.from });
      k++;
    } else out.push(piece);
  }
  return out;
}

/** Neighbours that slope the same way are one ramp. */
export function joinRamps(c: Channels, pieces: Piece[]): Piece[] {
  const sloped = pieces.map((p) => ({ ...p, kind: p.kind ?? (isSlope(c, p) ? ('ramp' as const) : null) }));
  const joined = joinNeighbours(
    c,
    sloped,
    (a, b) => a.kind === 'ramp' && b.kind === 'ramp' && Math.sign(a.rise) === Math.sign(b.rise) && sameVoltage(c, a, b),
  );
  return joined.map((p) => {
    if (p.kind !== 'ramp') return p;
    const change = Math.abs(p.rise) / Math.max(Math.abs(p.high), Math.abs(p.low), c.noise);
    return change >= settings.rampLeastChange && p.to - p.from >= settings.rampSamples ? p : { ...p, kind: null };
  });
}

/** A long climb or fall is cut into many pieces that each slope a little; a staircase into few that stand. */
export function joinSlides(c: Channels, pieces: Piece[]): Piece[] {
  const out: Piece[] = [];
  let k = 0;
  while (k < pieces.length) {
    const end = monotoneUntil(c, pieces, k);
    const group = pieces.slice(k, end);
    if (group.length >= settings.slidePieces && slides(c, group)) {
      const from = group[0].from;
      out.push({ ...measurePiece(c, from, group[group.length - 1].to), kind: 'ramp' });
      k = end;
    } else out.push(pieces[k++]);
  }
  return out;
}

/** A hold: many samples that do not move. */
function stands(c: Channels, p: Piece): boolean {
  return (
    p.to - p.from >= settings.standSamples &&
    Math.abs(p.rise) < Math.max(2 * c.noise, settings.standRise * Math.abs(p.mean))
  );
}

function monotoneUntil(c: Channels, pieces: Piece[], from: number): number {
  let end = from + 1;
  let direction = 0;
  while (end < pieces.length && pieces[end].from === pieces[end - 1].to) {
    const free = (p: Piece): boolean => p.kind === null || p.kind === 'ramp';
    const step = Math.sign(pieces[end].mean - pieces[end - 1].mean);
    if (stands(c, pieces[end]) || stands(c, pieces[end - 1])) break;
    if (!free(pieces[end]) || !free(pieces[end - 1]) || step === 0 || (direction !== 0 && step !== direction)) break;
    direction = step;
    end++;
  }
  return end;
}

/** Most of the change happens within the pieces rather than between them. */
function slides(c: Channels, group: Piece[]): boolean {
  const total = group[group.length - 1].mean - group[0].mean;
  const largest = Math.max(...group.map((p) => Math.abs(p.mean)));
  if (Math.abs(total) < Math.max(settings.rampLeastChange * largest, settings.slideNoise * c.noise)) return false;
  const within = group.reduce((sum, p) => sum + p.rise * Math.sign(total), 0);
  return within > settings.slideWithin * Math.abs(total);
}

/**
 * Stretches in which short levels go up and down without order are bursts of activity.
 *
 * @param c the channels that are segmented
 * @param pieces in the order of time
 * @param byEye somebody read it off a display, so that short levels are longer
 */
export function joinBursts(c: Channels, pieces: Piece[], byEye: boolean): Piece[] {
  const longest = Math.max(
    settings.burstLongestS,
    settings.burstLongestSamples * (c.interval || 0),
    byEye ? settings.burstLongestByEyeS : 0,
  );
  const isNothing = fallsToNothing(c, pieces, byEye);
  const restless = pieces.map(
    (p, k) => p.kind === null && !isNothing[k] && (isBusy(c, p) || pieceSeconds(c, p) <= longest),
  );
  const out: Piece[] = [];
  let k = 0;
  while (k < pieces.length) {
    let end = k;
    while (end < pieces.length && restless[end] && (end === k || pieces[end].from === pieces[end - 1].to)) end++;
    const group = pieces.slice(k, end);
    const trimmed = trimStaircase(c, group);
    if (trimmed.bursts.length > 0) {
      out.push(...trimmed.lead);
      const from = trimmed.bursts[0].from;
      const to = trimmed.bursts[trimmed.bursts.length - 1].to;
      out.push({ ...measurePiece(c, from, to), kind: 'bursts' });
      k = end;
    } else if (group.length > 0) {
      out.push(...group.map((p) => (isBusy(c, p) ? { ...p, kind: 'bursts' as const } : p)));
      k = end;
    } else out.push(pieces[k++]);
  }
  return joinNeighbours(c, out, (a, b) => a.kind === 'bursts' && b.kind === 'bursts' && sameVoltage(c, a, b));
}

/** Which pieces stand at nothing after something was drawn: activity rests, it does not go away. */
function fallsToNothing(c: Channels, pieces: readonly Piece[], byEye: boolean): boolean[] {
  const least = byEye ? 0 : Math.max(settings.nothingFromS, 2 * c.interval);
  let height = 0;
  return pieces.map((p) => {
    const isGone = p.mean <= Math.max(settings.zeroA, (byEye ? settings.droppedTo : settings.nothingUnder) * height);
    height = Math.max(height, p.mean);
    return isGone && height > 0 && pieceSeconds(c, p) > least;
  });
}

/** The rising steps that lead into a burst stay levels of their own: they are the staircase. */
function trimStaircase(c: Channels, group: Piece[]): { lead: Piece[]; bursts: Piece[] } {
  let lead = lastRestBefore(c, group);
  while (lead + 1 < group.length && group[lead + 1].mean > group[lead].mean && !isBusy(c, group[lead])) lead++;
  const rest = group.slice(lead);
  if (rest.length < settings.burstPieces && !rest.some((p) => isBusy(c, p) && rest.length > 1))
    return { lead: group, bursts: [] };
  const ups = rest.some((p, j) => j > 0 && p.mean > rest[j - 1].mean);
  const downs = rest.some((p, j) => j > 0 && p.mean < rest[j - 1].mean);
  const high = Math.max(...rest.map((p) => p.high));
  const low = Math.min(...rest.map((p) => p.low));
  const lively =
    ups && downs && high - low > settings.clearNoise * c.noise && high > settings.burstRatio * Math.max(low, c.noise);
  return lively ? { lead: group.slice(0, lead), bursts: rest } : { lead: group, bursts: [] };
}

/** Index of the last rest before anything high has been drawn: it is what the activity starts from; 0 where there is none. */
function lastRestBefore(c: Channels, group: Piece[]): number {
  const high = Math.max(...group.map((p) => p.high));
  const rest = Math.max(settings.levelNoise * c.noise, settings.restUnderBursts * high);
  let found = 0;
  for (const [k, p] of group.entries()) {
    if (p.mean > 0.5 * high) break;
    if (p.mean <= rest && pieceSeconds(c, p) >= settings.inrushS) found = k;
  }
  return found;
}

/** Neighbouring levels that differ by no more than noise or a few percent are one. */
export function joinLevels(c: Channels, pieces: Piece[]): Piece[] {
  return joinNeighbours(c, pieces, (a, b) => a.kind === null && b.kind === null && sameLevel(c, a, b));
}
