import { feedVolts } from '../catalogue/index.ts';
import { membershipAbove, membershipBelow, noisyOr } from './membership.ts';
import { startPatterns } from './patterns-start.ts';
import {
  holdScore,
  minPulseW,
  movementScore,
  normalStart,
  repeatScore,
  settlingScore,
  type Scores,
} from './phase-scores.ts';
import windows from './windows.json';
import type { Sight } from './context.ts';
import type { Phase, VoltageFeatures } from './types.ts';
import { chargeShare, heldPatterns } from './patterns-held.ts';

/** Keeps a count of nothing above 0, for the logarithm. */
const someCount = 0.01;

export const { softness, weight } = windows;

/** The bus voltage itself: absent, cycling, or lost and found. */
function busPatterns(s: Sight): Scores {
  const { voltage } = s.f;
  const scores: Scores = {};
  if (voltage.highest === null) return scores;
  const never = noisyOr(
    membershipAbove(voltage.absentShare, windows.bus.absentFrom, softness.sharp),
    membershipBelow(voltage.presentS + 0.001, windows.bus.presentUpToS, softness.wide) *
      membershipAbove(voltage.absentShare, windows.bus.absentSomeFrom, softness.soft),
  );
  const cycling =
    voltage.cycles && (voltage.cycles.plateau === null || voltage.cycles.plateau > windows.bus.cyclePlateauFrom)
      ? membershipAbove(voltage.cycles.count, windows.count.pulses, softness.medium)
      : 0;
  const repeated = membershipAbove(voltage.collapses, windows.count.several, softness.soft);
  scores['no-attach'] =
    never *
    (1 - weight.most * cycling) *
    membershipBelow(voltage.collapses + someCount, windows.count.many, softness.soft);
  scores['attach-cycling'] = cycling * (1 - weight.some * never);
  scores.erratic = repeated * (1 - cycling) * (1 - never);
  return scores;
}

/** How the draw at a port stands against its contract: 0 to 1 each. */
interface AtPort {
  bus: Scores;
  last: Phase;
  raised: number;
  onceRaised: number;
  /** It should have raised the contract and has not. */
  unraised: number;
  dead: number;
  hold: number;
  dark: number;
  low: number;
  lives: number;
  charging: number;
  /** A charge at 5 V as it should be. */
  plain: number;
}

function atPort(s: Sight): AtPort {
  const { f, context } = s;
  const e = context.expectation;
  const volts = f.voltage.tail ?? feedVolts.plainUsb;
  const raised = membershipAbove(volts, windows.raisedV, softness.sharp);
  const onceRaised = membershipAbove(Math.max(f.voltage.highest ?? volts, volts), windows.raisedV, softness.sharp);
  const last = s.after ?? f.whole;
  const tailA = last.tailA ?? f.whole.levelA ?? 0;
  const blurA = Math.max(f.resolutionA, f.noiseA) * 0.5;
  const dead = context.deviceState === 'running' ? weight.trace : 1;
  const dark = membershipBelow(Math.max(tailA, 1e-4), windows.darkA, windows.unraisedWidth, blurA);
  // What stands near its highest for a quarter of a minute and longer, with a battery there, fills it.
  const fillsIt =
    context.battery === 'connected' && !f.prompted
      ? membershipAbove(last.topHoldS, windows.chargeHoldS, softness.wide)
      : 0;
  const lives =
    normalStart(last, e, s.width) *
    (1 - weight.most * holdScore(last) * (1 - noisyOr(movementScore(last), settlingScore(last, e)))) *
    (1 - weight.nearly * fillsIt);
  // Small devices charge at 5 V as well: an ampere and more is a charge as it should be, unless it is known to raise.
  const raisesForSure = e.raises < windows.plainChargeUpTo ? 0 : 1;
  return {
    bus: busPatterns(s),
    last,
    raised,
    onceRaised,
    unraised: (1 - raised) * (1 - weight.more * onceRaised) * e.raises,
    dead,
    hold: noisyOr(holdScore(last), 0.5 * holdScore(f.whole)),
    dark,
    low: (1 - dark) * membershipBelow(tailA, windows.lowUpToA, windows.unraisedWidth, blurA),
    lives,
    charging: chargeShare(s),
    plain:
      (1 - raised) *
      (1 - onceRaised) *
      (1 - raisesForSure) *
      membershipAbove(tailA, windows.plainChargeA, softness.firm) *
      (1 - lives) *
      dead,
  };
}

/** What a raised contract may show, where nobody read the current. */
const atRaisedContract = [
  'dark-hold',
  'standby-hold',
  'partial-hold',
  'charge-limited',
  'charge-normal',
  'normal-start',
] as const;

/** USB-C: what the contract and the draw at it say. */
export function usbPatterns(s: Sight): Scores {
  const { f, context } = s;
  const port = atPort(s);
  // The voltage alone was read: the contract was raised or it was not, and what flows is not known.
  if (f.whole.levelA === null && f.voltage.absentShare < windows.bus.absentSomeFrom)
    return {
      'unraised-dark': 0.5 * port.unraised,
      'unraised-low': 0.5 * port.unraised,
      ...Object.fromEntries(atRaisedContract.map((id) => [id, port.raised / atRaisedContract.length])),
    };
  const { bus, unraised, dead, hold, dark, low, lives, charging, plain } = port;
  const scores: Scores = {};
  scores['unraised-dark'] = unraised * dark * dead * hold;
  scores['unraised-low'] = unraised * low * dead * hold * (1 - lives);
  merge(scores, heldPatterns(s, port.last, 1 - unraised, lives));
  merge(scores, {
    'charge-normal': weight.nearly * plain * noisyOr(charging, weight.more) * noisyOr(hold, weight.more),
    'charge-limited':
      unraised * (1 - dark) * (1 - low) * noisyOr(charging, 0.5) * (1 - lives) * (1 - weight.nearly * plain),
    'charge-refused': context.deviceState === 'running' ? dark * hold : 0,
  });
  // Near nothing at 5 V is no hold on a raised contract, whatever the device wants.
  const unheld = (1 - port.raised) * (scores['dark-hold'] ?? 0);
  scores['dark-hold'] = port.raised * (scores['dark-hold'] ?? 0);
  merge(scores, { 'unraised-dark': weight.much * unheld, 'charge-refused': weight.some * unheld });
  startsAtPort(s, port, scores);
  scores['normal-start'] = lives * (1 - weight.more * charging);
  scores.erratic = noisyOr(
    bus.erratic ?? 0,
    weight.most *
      membershipAbove(f.whole.dropOuts, windows.count.several, softness.soft) *
      (1 - repeatScore(f.whole)) *
      (1 - (bus['attach-cycling'] ?? 0)),
  );
  const stands =
    (1 - (bus['no-attach'] ?? 0)) * (1 - (bus['attach-cycling'] ?? 0)) * (1 - weight.nearly * (bus.erratic ?? 0));
  for (const id of Object.keys(scores) as (keyof Scores)[])
    if (id !== 'erratic') scores[id] = (scores[id] ?? 0) * stands;
  scores['no-attach'] = bus['no-attach'] ?? 0;
  scores['attach-cycling'] = bus['attach-cycling'] ?? 0;
  return scores;
}

/** What a device on a port does by itself, with a battery in and no press, is told from charging; else it is a start. */
function startsAtPort(s: Sight, { last, charging }: AtPort, scores: Scores): void {
  const { f, context } = s;
  const e = context.expectation;
  if (context.battery !== 'connected' || f.prompted) {
    const starts = startPatterns(s);
    for (const id of ['surge-on-prompt', 'hiccup', 'restart-loop', 'start-then-off'] as const)
      scores[id] = (starts[id] ?? 0) * (1 - weight.much * charging);
    // Nobody pressed: what flows is a charge or a hold, unless it sits in its limit.
    if (!f.prompted) scores['surge-on-prompt'] = (scores['surge-on-prompt'] ?? 0) * weight.some;
    return;
  }
  const volts = f.voltage.tail ?? feedVolts.plainUsb;
  const again = repeatScore(f.whole, minPulseW(f.whole, e.startPeakW), volts) * (1 - charging);
  scores['restart-loop'] = weight.part * again * (shortPeriod(f.whole) ? 0 : 1);
  scores.hiccup = weight.much * again * (shortPeriod(f.whole) ? 1 : 0);
  const gone = letsGo(last, e.startPeakW, s.width) * (1 - charging);
  for (const id of ['standby-hold', 'partial-hold', 'dark-hold', 'unraised-low'] as const)
    scores[id] = (scores[id] ?? 0) * (1 - gone);
  scores['start-then-off'] = gone;
}

/** A climb with activity that lets go to a small part of its height: a start that its battery did not carry. */
function letsGo(p: Phase, startPeakW: number, width: number): number {
  // A slow meter makes levels of the bursts: a climb of several steps is activity too.
  const lively = noisyOr(
    membershipAbove(p.burstShare, windows.activeBurstFrom, softness.wide),
    membershipAbove(p.steps, windows.count.many, softness.soft),
  );
  const looked =
    membershipAbove(p.peakW, windows.letsGoPeakFrom * startPeakW, width) *
    membershipAbove(p.steps, windows.count.several, softness.soft) *
    lively;
  return looked * membershipBelow(p.tailW, windows.letsGoUnderPeak * (p.peakW ?? 0), softness.soft) * holdScore(p);
}

function shortPeriod(p: Phase): boolean {
  return (p.pulses?.periodS ?? Infinity) < windows.shortPeriodS;
}

function merge(into: Scores, more: Scores): void {
  for (const id of Object.keys(more) as (keyof Scores)[]) into[id] = Math.max(into[id] ?? 0, more[id] ?? 0);
}

/** DC input: holds in watts before and after the press, and everything a bench supply shows. */
export function dcPatterns(s: Sight): Scores {
  const { f, context } = s;
  const e = context.expectation;
  const bus = busPatterns(s);
  const starts = startPatterns(s);
  const last = s.after ?? f.whole;
  const lives = s.after ? normalStart(s.after, e, s.width) : 0;
  const scores: Scores = { ...starts };
  const limited = f.whole.limitShare;
  const unprompted = !f.prompted && !e.startsOnPower && context.question !== 'charge';
  // With the battery in, what is drawn before the press charges it, up to what the charger gives.
  const beforeW = s.before.levelW ?? 0;
  const charges =
    context.battery === 'connected' ? membershipBelow(beforeW, windows.chargesUpTo * e.chargeW, softness.medium) : 0;
  const asksToCharge = Math.max(s.quietBefore, charges);
  for (const id of ['draw-before-prompt', 'idle-drain'] as const)
    scores[id] = (scores[id] ?? 0) * (1 - weight.almost * charges);
  const held = heldPatterns(s, last, 1 - limited, lives);
  for (const id of Object.keys(held) as (keyof Scores)[]) {
    const share = unprompted && id === 'dark-hold' ? weight.much : 1;
    const collapsed = (starts['start-then-off'] ?? 0) + (starts['surge-on-prompt'] ?? 0);
    scores[id] = Math.max(
      id === 'stall-mid' ? 0 : (scores[id] ?? 0),
      (held[id] ?? 0) *
        share *
        (1 - Math.min(1, collapsed)) *
        (id.startsWith('charge-') ? asksToCharge : s.quietBefore),
    );
  }
  scores['stall-low'] = weight.slight * (starts['stall-low'] ?? 0);
  scores['no-draw'] = 0.5 * (starts['no-draw'] ?? 0);
  const phase = s.after ?? s.before;
  const repeated = repeatScore(phase, minPulseW(phase, e.startPeakW), f.voltage.tail ?? 0);
  for (const id of ['dark-hold', 'standby-hold', 'partial-hold', 'stall-mid'] as const)
    scores[id] = (scores[id] ?? 0) * (1 - repeated);
  if (unprompted) {
    scores.quiet =
      (1 - repeated) *
      s.quietBefore *
      membershipBelow(f.whole.levelW, windows.darkW, softness.soft) *
      membershipAbove(f.whole.levelW, windows.nothingOnPortW, softness.vague) *
      0.5;
    scores['no-draw'] =
      s.quietBefore *
      membershipBelow(Math.max(f.whole.levelW ?? 0, 1e-4), windows.nothingOnPortW, softness.vague) *
      weight.some;
  }
  scores['no-attach'] = 0;
  if (f.voltage.cycles && f.voltage.highest !== null)
    scores.hiccup = Math.max(scores.hiccup ?? 0, weight.more * (bus['attach-cycling'] ?? 0));
  if (f.voltage.absentShare > windows.bus.neverFrom)
    scores['limit-at-once'] = Math.max(scores['limit-at-once'] ?? 0, 0.5);
  return scores;
}

/** A level that falls a little and comes back, again and again by the clock: a charge that lets go of a battery. */
function fallsByTheClock({ dips, highest }: VoltageFeatures): number {
  if (!dips || (dips.plateau !== null && dips.plateau <= windows.bus.cyclePlateauFrom)) return 0;
  const share = (dips.highA - dips.lowA) / Math.max(highest ?? 0, 1e-6);
  return (
    membershipAbove(dips.count, windows.count.pulses, softness.medium) *
    membershipAbove(share, windows.bus.clockShareFrom, softness.wide)
  );
}

/** Logs that hold only a voltage. */
export function voltagePatterns(s: Sight): Scores {
  const { voltage } = s.f;
  if (voltage.highest === null) return {};
  const never = membershipAbove(voltage.absentShare, windows.bus.neverFrom, softness.exact);
  const dropped = noisyOr(
    membershipAbove(voltage.collapses, windows.bus.droppedFrom, softness.soft),
    fallsByTheClock(voltage),
  );
  const bus = busPatterns(s);
  const onBus =
    s.context.feed === 'usb-c' && voltage.highest > windows.bus.fromV && (voltage.sag ?? 1) < windows.bus.sagFrom;
  const cycling = onBus ? weight.part * (bus['attach-cycling'] ?? 0) : 0;
  const smooth = 1 - s.f.smoothShare;
  return {
    'no-attach': s.context.feed === 'usb-c' ? never : 0,
    'attach-cycling': cycling,
    'voltage-dropout': dropped * (1 - never) * (1 - cycling) * smooth,
    'voltage-steady':
      (1 - dropped) *
      (1 - never) *
      membershipAbove(voltage.sag, windows.bus.steadySagFrom, softness.exact) *
      (voltage.lostForGood ? weight.slight : 1) *
      smooth,
  };
}
