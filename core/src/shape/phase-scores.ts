import { membershipAbove, membershipBelow, noisyOr } from './membership.ts';
import windows from './windows.json';
import type { PatternId } from '../catalogue/index.ts';
import type { Expectation } from './context.ts';
import type { Phase } from './types.ts';

const { softness, weight } = windows;

/** Keeps a count of nothing above 0, for the logarithm. */
export const someCount = 0.01;

export type Scores = Partial<Record<PatternId, number>>;

/**
 * Steady hold at the end: long enough to mean something and without activity.
 *
 * @returns 0 to 1
 */
export function holdScore(p: Phase): number {
  const long = membershipAbove(p.tailSeconds, windows.minTailS, softness.wide);
  const standing = p.tailKind === 'level' || p.tailKind === 'limit' || p.tailKind === 'zero' ? 1 : weight.trace;
  const share = membershipAbove(p.tailSeconds / Math.max(p.seconds, 1e-6), windows.tailShareFrom, softness.soft);
  return long * standing * share;
}

/**
 * Repetition that stands in steps; a smooth swing does not count.
 *
 * @param minW what a pulse must reach to be one, where less is a hold whatever it does, W
 * @param volts at the feed
 */
export function repeatScore(p: Phase, minW = 0, volts = 0): number {
  const pulses = p.pulses;
  if (!pulses) return 0;
  const worth = minW > 0 ? membershipAbove(pulses.highA * volts, minW, softness.soft) : 1;
  const stepped =
    pulses.plateau === null ? weight.most : membershipAbove(pulses.plateau, windows.plateauFrom, softness.firm);
  const covered = membershipAbove(
    (pulses.t1 - pulses.t0) / Math.max(p.seconds, 1e-6),
    windows.coveredFrom,
    softness.soft,
  );
  // Noise that happens to repeat is no start-up and no retry.
  const high = membershipAbove(Math.abs(pulses.highA - pulses.lowA), windows.minPulseA, softness.wide);
  return worth * stepped * covered * high * membershipAbove(pulses.count, windows.count.pulses, softness.medium);
}

/**
 * What a repetition on a port or a DC input must reach to be one, W: a retry of a converter more than what is dark, a
 * start-up that begins again a share of what a start takes.
 */
export function minPulseW(p: Phase, startPeakW: number): number {
  const short = (p.pulses?.periodS ?? Infinity) < windows.shortPeriodS;
  return short ? windows.darkW : Math.max(windows.darkW, windows.portLoopShare * startPeakW);
}

/** Levels of the start-up against the expected peak, as one number that says how far the climb got. */
export function startUpProgress(p: Phase, peakW: number): number {
  return Math.max(p.tailW ?? 0, windows.start.peakCounts * (p.peakW ?? 0)) / peakW;
}

/**
 * Goes up and down by a fifth and more several times, without falling to nothing: what loads, not what is frozen.
 *
 * @returns 0 to 1
 */
export function movementScore(p: Phase): number {
  return (
    noisyOr(
      membershipAbove(p.reversals + someCount, windows.count.several, softness.soft),
      membershipAbove(p.burstShare, windows.movingBurstFrom, softness.soft),
    ) *
    membershipBelow(p.dropOuts + someCount, windows.count.several, softness.soft) *
    membershipAbove((p.tailW ?? 0) / Math.max(p.peakW ?? 0, 1e-6), windows.start.staysAbove, softness.soft) *
    (1 - repeatScore(p))
  );
}

/**
 * Stands at the height of a start for a while and then settles, a fifth and more lower, at the level of somebody working. A
 * freeze has nowhere to fall to; what jumps at the press and falls at once is an inrush.
 *
 * @param e watts that a healthy start reaches and settles at
 * @returns 0 to 1
 */
export function settlingScore(p: Phase, e: Expectation): number {
  const { settleUpTo, settleTopFromS } = windows.start;
  return (
    membershipAbove(p.peakW, e.startFromW, softness.medium) *
    noisyOr(
      membershipAbove(p.topHoldS, settleTopFromS, softness.wide),
      membershipAbove(p.reversals + someCount, windows.count.several, softness.soft),
    ) *
    membershipAbove(p.tailW, e.settledFromW, softness.medium) *
    membershipBelow(p.tailW, e.settledToW, softness.medium) *
    membershipBelow(p.tailW, settleUpTo * (p.peakW ?? 1), softness.medium)
  );
}

/**
 * Looks like a healthy start: reaches the expected height and lives.
 *
 * @param e watts that a healthy start reaches and settles at
 * @param width natural-log width of the windows
 * @returns 0 to 1
 */
export function normalStart(p: Phase, e: Expectation, width: number): number {
  const { startPeakW: peakW, idleW } = e;
  const high = membershipAbove(p.peakW, windows.normalPeakFrom * peakW, width);
  const lively = membershipAbove(p.burstShare, windows.normalBurstFrom, softness.wide);
  const falls =
    membershipAbove(p.peakW, windows.start.settlePeakFrom * peakW, width) *
    membershipAbove(p.tailW, windows.start.tailFrom * idleW, softness.wide) *
    membershipBelow(p.tailW, windows.start.settleUpTo * (p.peakW ?? 1), softness.medium);
  const steps = membershipAbove(p.steps, windows.count.several, softness.soft);
  // Three levels and more that climb to the height of a start and fall back a little: as a person types a healthy one.
  const climbs =
    membershipAbove(p.steps, windows.count.many, softness.medium) *
    membershipAbove(p.peakW, windows.climbFrom * peakW, softness.soft) *
    membershipAbove(p.tailW, windows.start.tailFrom * idleW, softness.wide) *
    membershipBelow(p.tailW, windows.climbTailUpTo * (p.peakW ?? 1), softness.firm);
  // What ends at the level of an idle device after a climb has started, even where the peak was between two readings.
  const idles =
    membershipAbove(p.steps, windows.count.many, softness.medium) *
    membershipAbove(p.peakW, windows.normalPeakFrom * peakW, softness.soft) *
    membershipAbove(p.tailW, windows.start.idleFrom * idleW, softness.sharp) *
    membershipBelow(
      p.tailW,
      Math.min(windows.start.idleUpTo * idleW, windows.climbTailUpTo * (p.peakW ?? 1)),
      softness.sharp,
    );
  // As people read it off a display: a few numbers that go up, down and up, and end at the level of somebody working.
  const moving = movementScore(p) * membershipAbove(p.tailW, windows.start.movingTailFrom * idleW, softness.wide);
  const stays = membershipAbove(p.tailW, windows.start.staysFrom * idleW, softness.wide);
  const still = 1 - p.limitShare;
  const asOthers =
    high *
    noisyOr(lively, weight.much * falls * steps, weight.most * climbs, weight.most * idles, weight.almost * moving);
  return (
    noisyOr(asOthers, weight.most * settlingScore(p, e)) *
    stays *
    still *
    // What falls to nothing and comes back has begun again.
    (1 - weight.much * membershipAbove(p.dropOuts, windows.count.one, softness.soft)) *
    (1 - repeatScore(p)) *
    (1 - p.rampShare)
  );
}
