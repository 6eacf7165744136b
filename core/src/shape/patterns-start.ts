import { membershipAbove, membershipBelow, noisyOr } from './membership.ts';
import windows from './windows.json';
import type { Sight } from './context.ts';
import type { Phase } from './types.ts';
import {
  someCount,
  type Scores,
  holdScore,
  repeatScore,
  minPulseW,
  startUpProgress,
  movementScore,
  normalStart,
} from './phase-scores.ts';

const { softness, weight } = windows;

/** Step after step until it was switched off: nothing is known to be wrong with a start that was not let finish. */
function stillClimbs(p: Phase): number {
  const atTop = membershipAbove(p.tailW, windows.start.topFrom * (p.peakW ?? Infinity), softness.firm);
  return (
    membershipAbove(p.steps, windows.count.many, softness.medium) *
    membershipBelow(p.tailSeconds, windows.stillClimbsWithinS, softness.wide) *
    atTop *
    (1 - p.limitShare)
  );
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
    repeatScore(p, context.feed === 'battery' ? 0 : minPulseW(p, e.startPeakW), f.voltage.tail ?? 0);
  const beforePulses = f.before ? again(before) : after === null ? again(before) : 0;
  const standing = before.levelShare + before.limitShare + 0.5 * before.rampShare;
  const draws =
    (1 - quiet) *
    (1 - membershipAbove(before.limitShare, windows.limitedFrom, softness.wide)) *
    membershipAbove(standing, windows.standsFrom, softness.soft) *
    (1 - beforePulses);
  const limited = membershipAbove(before.limitShare, windows.limitedFrom, softness.wide);
  if (context.feed !== 'usb-c') scores['limit-at-once'] = limited;

  const lives = after ? normalStart(after, e, s.width) : 0;
  // Nobody marked the press: what moves within the windows of a healthy device is a start, and no draw before one.
  const unmarked = after ? 0 : unmarkedStart(s);
  Object.assign(scores, restingPatterns(s, draws * (1 - weight.nearly * unmarked), lives));
  if (unmarked > 0) scores['normal-start'] = unmarked;
  const period = before.pulses?.periodS ?? after?.pulses?.periodS ?? null;
  const short = membershipBelow(period, windows.shortPeriodS, windows.periodWidth);
  if (beforePulses > 0) {
    scores.hiccup = beforePulses * (period === null ? 0 : short);
    scores['restart-loop'] = beforePulses * (period === null ? 0 : 1 - short) * (e.startsOnPower ? 1 : 0.5);
  }
  if (after) Object.assign(scores, afterPrompt(s, after, quiet, lives));
  if (after && (context.question === 'drain' || f.asleep)) drainAfterStart(s, after, scores);
  const drops = Math.max(before.dropOuts, after?.dropOuts ?? 0, f.whole.dropOuts);
  scores.erratic =
    membershipAbove(drops, windows.count.several, softness.soft) *
    (1 - (after ? repeatScore(after) : 0)) *
    (1 - beforePulses) *
    (1 - weight.nearly * f.smoothShare);
  return scores;
}

/** A draw without a press that goes up and down as a device does which is working, at the height where healthy ones work. */
function unmarkedStart({ f, context }: Sight): number {
  const { whole } = f;
  const e = context.expectation;
  if (context.deviceState === 'running' || context.deviceState === 'asleep' || context.question === 'drain') return 0;
  return (
    movementScore(whole) *
    membershipAbove(whole.peakW, e.settledFromW, softness.medium) *
    membershipBelow(whole.peakW, e.startToW, softness.medium) *
    membershipAbove(whole.tailW, e.settledFromW, softness.medium) *
    membershipBelow(whole.tailW, e.settledToW, softness.medium) *
    (1 - whole.limitShare)
  );
}

/** It started, was left to itself or put to sleep, and stays well above what it should draw then: that was the question. */
function drainAfterStart(s: Sight, after: Phase, scores: Scores): void {
  const { expectation: e, feed } = s.context;
  if (feed !== 'battery') return;
  const started =
    membershipAbove(after.peakW, windows.normalPeakFrom * e.startPeakW, s.width) *
    membershipAbove(after.steps, windows.count.several, softness.soft);
  const { asleep } = s.f;
  const settled =
    membershipBelow(after.tailW, windows.asleepUnderIdle * e.idleW, softness.medium) *
    membershipAbove(after.tailSeconds, windows.sleepFromS, softness.soft);
  const slept = asleep ? 1 : settled;
  const over = membershipAbove(
    asleep?.levelW ?? after.tailW,
    windows.asleepFactor * e.quiescentW + s.blurW,
    softness.soft,
    s.blurW,
  );
  const drains = started * slept * over;
  for (const id of ['normal-start', 'start-then-off'] as const)
    scores[id] = (scores[id] ?? 0) * (1 - weight.nearly * drains);
  scores['idle-drain'] = Math.max(scores['idle-drain'] ?? 0, weight.nearly * drains);
}

function restingPatterns(s: Sight, draws: number, lives: number): Scores {
  const { f, context, before } = s;
  const e = context.expectation;
  const scores: Scores = {};
  const drainAsked = context.question === 'drain' ? weight.nearly : 0;
  const state = context.deviceState;
  if (state === 'running' || state === 'asleep') {
    const limit = state === 'running' ? windows.idleFactor * e.idleW : windows.asleepFactor * e.quiescentW + s.blurW;
    const over = membershipAbove(f.whole.levelW, limit, softness.soft, s.blurW);
    scores['idle-drain'] = over * (1 - f.whole.limitShare) * (f.prompted ? weight.some : 1);
    scores.quiet = f.prompted ? 0 : (1 - over) * (1 - f.whole.limitShare);
    if (state === 'running') return scores;
    scores['draw-before-prompt'] = draws * weight.slight;
    return scores;
  }
  const drain = noisyOr(drainAsked, weight.most * lives);
  scores['draw-before-prompt'] = draws * (1 - drain);
  scores['idle-drain'] = draws * drain;
  if (!f.prompted && context.feed !== 'usb-c') {
    const supplied =
      f.voltage.highest === null ? 1 : membershipAbove(f.voltage.highest, windows.suppliedFromV, softness.firm);
    scores.quiet =
      s.quietBefore *
      (before.zeroShare + before.levelShare > 0.5 ? 1 : weight.slight) *
      (1 - repeatScore(before)) *
      supplied *
      (e.startsOnPower && context.feed !== 'battery' ? weight.slight : 1);
    scores['no-draw'] = scores.quiet * (e.startsOnPower ? weight.most : weight.slight);
  }
  return scores;
}

/** How the draw after the press stands against what was drawn before it and against a healthy start: 0 to 1 each. */
interface AfterPress {
  loop: number;
  short: number;
  steady: number;
  rose: number;
  nothing: number;
  low: number;
  high: number;
  surges: number;
  collapsed: number;
  /** It climbed as a start does before it collapsed. */
  looked: number;
  /** What stood before, W. */
  baseW: number;
}

function afterPress(s: Sight, after: Phase): AfterPress {
  const { f, context, before } = s;
  const e = context.expectation;
  const isBattery = context.feed === 'battery';
  const loop = repeatScore(after, isBattery ? 0 : minPulseW(after, e.startPeakW), f.voltage.tail ?? 0);
  const period = after.pulses?.periodS ?? null;
  // Where nothing was seen before a start, the level of all of it is no level to fall back to.
  const baseW = f.before ? Math.max(before.levelW ?? 0, 0) : 0;
  const { rise, collapse, count } = windows;
  const minRiseW = Math.max(windows.riseFactor * e.quiescentW, rise.restShare * s.restW, rise.baseShare * baseW);
  const rose = membershipAbove((after.tailW ?? 0) - baseW, minRiseW, softness.wide, s.blurW);
  const peakRiseW = Math.max(s.restW, rise.peakShare * baseW);
  const peaked = membershipAbove((after.peakW ?? 0) - baseW, peakRiseW, softness.wide, s.blurW);
  const reached = startUpProgress(after, e.startPeakW);
  const manySteps = after.steps >= 2 ? rise.steppedFactor : rise.steplessFactor;
  const high =
    membershipAbove(reached, windows.stallMidUpTo, s.width * windows.stallMidWidth) *
    (isBattery ? 1 : membershipAbove(after.peakW, windows.portSurgeFromW, softness.soft));
  const steady = holdScore(after);
  const restW = Math.max(s.restW * collapse.restFactor, collapse.peakShare * e.startPeakW, collapse.baseFactor * baseW);
  return {
    loop,
    short: period === null ? 0 : membershipBelow(period, windows.shortPeriodS, windows.periodWidth),
    steady,
    rose,
    nothing: (1 - rose) * (1 - peaked) * (1 - loop),
    low: membershipBelow(reached * manySteps, windows.stallLowUpTo, s.width),
    high,
    // What stands below its top has come down from it.
    surges: surgesAfter(
      s,
      after,
      high * steady * membershipAbove(after.tailW, windows.start.topFrom * (after.peakW ?? 0), softness.firm),
    ),
    collapsed: membershipBelow(after.tailW, restW, softness.soft, s.blurW),
    looked:
      membershipAbove(after.peakW, collapse.peakFrom * e.startPeakW, s.width) *
      noisyOr(
        membershipAbove(after.steps, count.several, softness.soft),
        membershipAbove(after.burstShare, windows.activeBurstFrom, softness.wide),
        weight.some,
      ),
    baseW,
  };
}

/** A jump to the limit or well over the peak of a start, soon after the press, that stands there. */
function surgesAfter({ context }: Sight, after: Phase, highAndSteady: number): number {
  const e = context.expectation;
  const { surge } = windows;
  // No start of the class peaks higher; on a port or a DC input what stays under the windows of the holds is a hold.
  const least = Math.max(e.startToW, context.feed === 'battery' ? 0 : windows.portSurgeFromW);
  const startPeakW = Math.max(e.startPeakW, least / windows.surgeOverPeak);
  const width = windows.surgeWidth + surge.allowance * e.allowance;
  const overPeak = membershipAbove(after.peakW, windows.surgeOverPeak * startPeakW, width);
  const flatTop =
    membershipAbove(after.topHoldS, surge.topFromS, 0.5) *
    membershipBelow(after.burstShare, surge.burstUpTo, softness.wide);
  const soon = membershipBelow(Math.max(after.peakAfterS ?? 0, windows.soonS), windows.surgeLatestS, softness.wide);
  return (
    noisyOr(
      membershipAbove(after.limitShare, surge.limitFrom, softness.wide),
      weight.almost * overPeak * flatTop,
      weight.much * highAndSteady * flatTop,
    ) * soon
  );
}

function afterPrompt(s: Sight, after: Phase, quiet: number, lives: number): Scores {
  const { f, context } = s;
  const { loop, short, steady, rose, nothing, low, high, surges, collapsed, looked, baseW } = afterPress(s, after);
  const scores: Scores = {};
  if (context.feed === 'battery' || (f.voltage.highest ?? 0) > 0)
    scores['no-draw'] =
      nothing *
      quiet *
      (context.feed === 'battery' ? 1 : membershipBelow(baseW, windows.nothingOnPortW, softness.wide));
  const stalls = quiet * rose * steady * (1 - loop) * (1 - surges) * (1 - collapsed);
  const once = membershipBelow(after.dropOuts + someCount, windows.count.several, softness.soft);
  const off = collapsed * looked * (1 - nothing) * (1 - loop) * once;
  scores['surge-on-prompt'] = quiet * surges * (1 - loop) * (1 - weight.most * lives);
  scores['stall-low'] = stalls * low;
  scores['stall-mid'] = stalls * (1 - low) * (1 - high) * (1 - lives);
  scores['start-then-off'] = quiet * off * (1 - weight.nearly * surges);
  const healthy = lives * (1 - surges * 0.5) * (1 - weight.much * (1 - quiet));
  scores['normal-start'] = Math.max(healthy, f.endedOff ? weight.much * quiet * stillClimbs(after) * (1 - loop) : 0);
  if (loop > 0) {
    scores.hiccup = Math.max(scores.hiccup ?? 0, loop * short);
    scores['restart-loop'] = Math.max(scores['restart-loop'] ?? 0, loop * (1 - short));
  }
  return scores;
}
