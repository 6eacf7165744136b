import { above, below, either } from './membership.ts';
import windows from './windows.json';
import type { Sight } from './context.ts';
import type { PatternId } from '../catalogue/index.ts';
import type { Phase } from './types.ts';

export type Scores = Partial<Record<PatternId, number>>;

/** Steady hold at the end: long enough to mean something and without activity. */
export function holds(p: Phase): number {
  const long = above(p.tailSeconds, windows.minTailS, 0.3);
  const standing = p.tailKind === 'level' || p.tailKind === 'limit' || p.tailKind === 'zero' ? 1 : 0.06;
  const share = above(p.tailSeconds / Math.max(p.seconds, 1e-6), 0.22, 0.25);
  return long * standing * share;
}

/**
 * Repetition that stands in steps; a smooth swing does not count.
 *
 * @param minW what a pulse must reach to be one, where less is a hold whatever it does, W
 * @param volts at the feed
 */
export function repeats(p: Phase, minW = 0, volts = 0): number {
  const pulses = p.pulses;
  if (!pulses) return 0;
  const worth = minW > 0 ? above(pulses.highA * volts, minW, 0.2) : 1;
  const stepped = pulses.plateau === null ? 0.85 : above(pulses.plateau, 0.28, 0.12);
  const covered = above((pulses.t1 - pulses.t0) / Math.max(p.seconds, 1e-6), 0.4, 0.2);
  // Noise that happens to repeat is no start-up and no retry.
  const high = above(Math.abs(pulses.highA - pulses.lowA), windows.minPulseA, 0.3);
  return worth * stepped * covered * high * above(pulses.count, 2.4, 0.15);
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
function climb(p: Phase, peakW: number): number {
  return Math.max(p.tailW ?? 0, 0.75 * (p.peakW ?? 0)) / peakW;
}

/** Looks like a healthy start: reaches the expected height and lives. */
export function normalStart(p: Phase, peakW: number, idleW: number, width: number): number {
  const high = above(p.peakW, windows.normalPeakFrom * peakW, width);
  const lively = above(p.burstShare, windows.normalBurstFrom, 0.35);
  const settles =
    above(p.peakW, 0.6 * peakW, width) * above(p.tailW, 0.35 * idleW, 0.3) * below(p.tailW, 0.8 * (p.peakW ?? 1), 0.15);
  const steps = above(p.steps, 1.5, 0.25);
  // Three levels and more that climb to the height of a start and fall back a little: as a person types a healthy one.
  const climbs =
    above(p.steps, 2.5, 0.15) *
    above(p.peakW, windows.climbFrom * peakW, 0.2) *
    above(p.tailW, 0.35 * idleW, 0.3) *
    below(p.tailW, windows.climbTailUpTo * (p.peakW ?? 1), 0.12);
  // What ends at the level of an idle device after a climb has started, even where the peak was between two readings.
  const idles =
    above(p.steps, 2.5, 0.15) *
    above(p.peakW, windows.normalPeakFrom * peakW, 0.2) *
    above(p.tailW, 0.75 * idleW, 0.08) *
    below(p.tailW, Math.min(1.3 * idleW, windows.climbTailUpTo * (p.peakW ?? 1)), 0.08);
  const stays = above(p.tailW, 0.2 * idleW, 0.3);
  const still = 1 - p.limitShare;
  return (
    high *
    either(lively, 0.75 * settles * steps, 0.85 * climbs, 0.85 * idles) *
    stays *
    still *
    (1 - repeats(p)) *
    (1 - p.rampShare)
  );
}

/** Step after step until it was switched off: nothing is known to be wrong with a start that was not let finish. */
function stillClimbs(p: Phase): number {
  const atTop = above(p.tailW, 0.75 * (p.peakW ?? Infinity), 0.1);
  return above(p.steps, 2.5, 0.15) * below(p.tailSeconds, windows.stillClimbsWithinS, 0.3) * atTop * (1 - p.limitShare);
}

/**
 * Patterns of a start from a bench supply (battery feed, DC input) or of a port that runs the device: everything that
 * speaks of the time before and after the press.
 */
export function startPatterns(s: Sight): Scores {
  const { f, context, before, after } = s;
  const e = context.expectation;
  const scores: Scores = {};
  const quiet = s.quietBefore;
  const again = (p: Phase): number =>
    repeats(p, context.feed === 'battery' ? 0 : minPulseW(p, e.startPeakW), f.voltage.tail ?? 0);
  const beforePulses = f.before ? again(before) : after === null ? again(before) : 0;
  const standing = before.levelShare + before.limitShare + 0.5 * before.rampShare;
  const draws =
    (1 - quiet) * (1 - above(before.limitShare, 0.35, 0.3)) * above(standing, 0.4, 0.25) * (1 - beforePulses);
  const limited = above(before.limitShare, 0.35, 0.3);
  if (context.feed !== 'usb-c') scores['limit-at-once'] = limited;

  const lives = after ? normalStart(after, e.startPeakW, e.idleW, s.width) : 0;
  const rests = restingPatterns(s, draws, lives);
  Object.assign(scores, rests);
  const period = before.pulses?.periodS ?? after?.pulses?.periodS ?? null;
  const short = below(period, windows.shortPeriodS, windows.periodWidth);
  if (beforePulses > 0) {
    scores.hiccup = beforePulses * (period === null ? 0 : short);
    scores['restart-loop'] = beforePulses * (period === null ? 0 : 1 - short) * (e.startsOnPower ? 1 : 0.5);
  }
  if (after) Object.assign(scores, afterPrompt(s, after, quiet, lives));
  if (after && (context.question === 'drain' || f.asleep)) drainAfterStart(s, after, scores);
  const drops = Math.max(before.dropOuts, after?.dropOuts ?? 0, f.whole.dropOuts);
  scores.erratic =
    above(drops, 1.6, 0.2) * (1 - (after ? repeats(after) : 0)) * (1 - beforePulses) * (1 - 0.9 * f.smoothShare);
  return scores;
}

/** It started, was left to itself or put to sleep, and stays well above what it should draw then: that was the question. */
function drainAfterStart(s: Sight, after: Phase, scores: Scores): void {
  const { expectation: e, feed } = s.context;
  if (feed !== 'battery') return;
  const started = above(after.peakW, windows.normalPeakFrom * e.startPeakW, s.width) * above(after.steps, 1.5, 0.25);
  const { asleep } = s.f;
  const settled =
    below(after.tailW, windows.asleepUnderIdle * e.idleW, 0.15) * above(after.tailSeconds, windows.sleepFromS, 0.2);
  const slept = asleep ? 1 : settled;
  const over = above(asleep?.levelW ?? after.tailW, windows.asleepFactor * e.quiescentW + s.blurW, 0.2, s.blurW);
  const drains = started * slept * over;
  for (const id of ['normal-start', 'start-then-off'] as const) scores[id] = (scores[id] ?? 0) * (1 - 0.9 * drains);
  scores['idle-drain'] = Math.max(scores['idle-drain'] ?? 0, 0.9 * drains);
}

function restingPatterns(s: Sight, draws: number, lives: number): Scores {
  const { f, context, before } = s;
  const e = context.expectation;
  const scores: Scores = {};
  const drainAsked = context.question === 'drain' ? 0.9 : 0;
  const state = context.deviceState;
  if (state === 'running' || state === 'asleep') {
    const limit = state === 'running' ? windows.idleFactor * e.idleW : windows.asleepFactor * e.quiescentW + s.blurW;
    const over = above(f.whole.levelW, limit, 0.2, s.blurW);
    scores['idle-drain'] = over * (1 - f.whole.limitShare) * (f.prompted ? 0.3 : 1);
    scores.quiet = f.prompted ? 0 : (1 - over) * (1 - f.whole.limitShare);
    if (state === 'running') return scores;
    scores['draw-before-prompt'] = draws * 0.15;
    return scores;
  }
  const drain = either(drainAsked, 0.85 * lives);
  scores['draw-before-prompt'] = draws * (1 - drain);
  scores['idle-drain'] = draws * drain;
  if (!f.prompted && context.feed !== 'usb-c') {
    const supplied = f.voltage.highest === null ? 1 : above(f.voltage.highest, 1.5, 0.1);
    scores.quiet =
      s.quietBefore *
      (before.zeroShare + before.levelShare > 0.5 ? 1 : 0.2) *
      (1 - repeats(before)) *
      supplied *
      (e.startsOnPower && context.feed !== 'battery' ? 0.15 : 1);
    scores['no-draw'] = scores.quiet * (e.startsOnPower ? 0.8 : 0.12);
  }
  return scores;
}

function afterPrompt(s: Sight, after: Phase, quiet: number, lives: number): Scores {
  const { f, context, before } = s;
  const e = context.expectation;
  const scores: Scores = {};
  const loop = repeats(after, context.feed === 'battery' ? 0 : minPulseW(after, e.startPeakW), f.voltage.tail ?? 0);
  const period = after.pulses?.periodS ?? null;
  const short = period === null ? 0 : below(period, windows.shortPeriodS, windows.periodWidth);
  const base = Math.max(before.levelW ?? 0, 0);
  const steady = holds(after);
  const risenW = (after.tailW ?? 0) - (f.before ? base : 0);
  const rose = above(risenW, Math.max(windows.riseFactor * e.quiescentW, 0.35 * s.restW, 0.35 * base), 0.3, s.blurW);
  const peaked = above((after.peakW ?? 0) - base, Math.max(s.restW, 0.3 * base), 0.3, s.blurW);
  const nothing = (1 - rose) * (1 - peaked) * (1 - loop);
  const reached = climb(after, e.startPeakW);
  const manySteps = after.steps >= 2 ? 1.5 : 0.75;
  const low = below(reached * manySteps, windows.stallLowUpTo, s.width);
  const high =
    above(reached, windows.stallMidUpTo, s.width * 0.8) *
    (context.feed === 'battery' ? 1 : above(after.peakW, windows.portSurgeFromW, 0.2));
  const soon = below(Math.max(after.peakAfterS ?? 0, 0.01), windows.surgeLatestS, 0.3);
  // On a port or a DC input what stays under the windows of the holds is a hold.
  const startPeakW =
    context.feed === 'battery' ? e.startPeakW : Math.max(e.startPeakW, windows.portSurgeFromW / windows.surgeOverPeak);
  const overPeak = above(after.peakW, windows.surgeOverPeak * startPeakW, windows.surgeWidth + 0.4 * e.allowance);
  const flatTop = above(after.topHoldS, 0.25, 0.5) * below(after.burstShare, 0.25, 0.3);
  const surges =
    either(above(after.limitShare, 0.12, 0.3), 0.95 * overPeak * flatTop, 0.75 * high * flatTop * steady) * soon;
  const collapsed = below(after.tailW, Math.max(s.restW * 1.6, 0.03 * e.startPeakW, 1.3 * base), 0.25, s.blurW);
  const looked =
    above(after.peakW, 0.16 * e.startPeakW, s.width) *
    either(above(after.steps, 1.5, 0.2), above(after.burstShare, 0.1, 0.3), 0.3);
  const off = collapsed * looked * (1 - nothing) * (1 - loop) * below(after.dropOuts + 0.01, 1.6, 0.2);

  if (context.feed === 'battery' || (f.voltage.highest ?? 0) > 0)
    scores['no-draw'] = nothing * quiet * (context.feed === 'battery' ? 1 : below(base, windows.nothingOnPortW, 0.3));
  scores['surge-on-prompt'] = quiet * surges * (1 - loop) * (1 - 0.85 * lives);
  scores['stall-low'] = quiet * rose * steady * low * (1 - loop) * (1 - surges) * (1 - collapsed);
  scores['stall-mid'] =
    quiet * rose * steady * (1 - low) * (1 - high) * (1 - loop) * (1 - surges) * (1 - lives) * (1 - collapsed);
  scores['start-then-off'] = quiet * off * (1 - 0.9 * surges);
  const healthy = lives * (1 - surges * 0.5) * (0.35 + 0.65 * quiet);
  scores['normal-start'] = Math.max(healthy, f.endedOff ? 0.7 * quiet * stillClimbs(after) * (1 - loop) : 0);
  if (loop > 0) {
    scores.hiccup = Math.max(scores.hiccup ?? 0, loop * short);
    scores['restart-loop'] = Math.max(scores['restart-loop'] ?? 0, loop * (1 - short));
  }
  return scores;
}
