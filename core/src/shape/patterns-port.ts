import { feedVolts } from '../catalogue/index.ts';
import { above, below, either } from './membership.ts';
import { holds, minPulseW, normalStart, repeats, startPatterns, type Scores } from './patterns-start.ts';
import windows from './windows.json';
import type { Sight } from './context.ts';
import type { Phase } from './types.ts';

/** Keeps a count of nothing above 0, for the logarithm. */
const someCount = 0.01;

const { softness, weight } = windows;

/** How likely the run shows charging rather than an attempt to start: 0 to 1. */
function chargeShare(s: Sight): number {
  const { battery, question, deviceState } = s.context;
  if (battery === 'absent' || battery === 'disconnected') return windows.chargeShare.noBattery;
  let share = battery === 'connected' ? windows.chargeShare.batteryIn : windows.chargeShare.batteryUnknown;
  if (question === 'charge')
    share = battery === 'connected' ? windows.chargeShare.asked : windows.chargeShare.askedUnknown;
  // Whoever complains that it empties has a device that runs, and is on the charger to be filled.
  if (question === 'drain' && battery === 'connected') share = windows.chargesWhoDrains;
  if (question === 'start') share *= 0.5;
  if (deviceState === 'running' || deviceState === 'asleep') share = Math.max(share, windows.chargeShare.running);
  if (s.f.prompted) share *= windows.chargeShare.prompted;
  // Nobody waits that long for a start.
  else if (battery === 'connected' && s.f.whole.seconds > windows.longChargeS)
    share = Math.max(share, windows.chargeShare.long);
  return share;
}

/** Where the battery's voltage explains a small charge current: empty (precharge) or full. */
function smallChargeIsRight(s: Sight): number {
  const { batteryV, emptyV, fullV } = s.context;
  if (batteryV === null) return weight.trace;
  return either(below(batteryV, emptyV, windows.batteryEmptyWidth), above(batteryV, fullV, windows.batteryFullWidth));
}

/** The bus voltage itself: absent, cycling, or lost and found. */
function busPatterns(s: Sight): Scores {
  const { voltage } = s.f;
  const scores: Scores = {};
  if (voltage.highest === null) return scores;
  const never = either(
    above(voltage.absentShare, windows.bus.absentFrom, softness.sharp),
    below(voltage.presentS + 0.001, windows.bus.presentUpToS, softness.wide) *
      above(voltage.absentShare, windows.bus.absentSomeFrom, softness.soft),
  );
  const cycling =
    voltage.cycles && (voltage.cycles.plateau === null || voltage.cycles.plateau > windows.bus.cyclePlateauFrom)
      ? above(voltage.cycles.count, windows.count.pulses, softness.medium)
      : 0;
  const repeated = above(voltage.collapses, windows.count.several, softness.soft);
  scores['no-attach'] =
    never * (1 - weight.most * cycling) * below(voltage.collapses + someCount, windows.count.many, softness.soft);
  scores['attach-cycling'] = cycling * (1 - weight.some * never);
  scores.erratic = repeated * (1 - cycling) * (1 - never);
  return scores;
}

/** USB-C: what the contract and the draw at it say. */
export function usbPatterns(s: Sight): Scores {
  const { f, context } = s;
  const e = context.expectation;
  const bus = busPatterns(s);
  const stands =
    (1 - (bus['no-attach'] ?? 0)) * (1 - (bus['attach-cycling'] ?? 0)) * (1 - weight.nearly * (bus.erratic ?? 0));
  const volts = f.voltage.tail ?? feedVolts.plainUsb;
  const highest = f.voltage.highest ?? volts;
  const raised = above(volts, windows.raisedV, softness.sharp);
  const onceRaised = above(Math.max(highest, volts), windows.raisedV, softness.sharp);
  const unraised = (1 - raised) * (1 - weight.more * onceRaised) * e.raises;
  const last = s.after ?? f.whole;
  const tailA = last.tailA ?? f.whole.levelA ?? 0;
  const blurA = Math.max(f.resolutionA, f.noiseA) * 0.5;
  const dead = context.deviceState === 'running' ? weight.trace : 1;
  const hold = either(holds(last), 0.5 * holds(f.whole));
  const dark = below(Math.max(tailA, 1e-4), windows.darkA, windows.unraisedWidth, blurA);
  const low = (1 - dark) * below(tailA, windows.lowUpToA, windows.unraisedWidth, blurA);
  // What stands near its highest for a quarter of a minute and longer, with a battery there, fills it.
  const fillsIt =
    context.battery === 'connected' && !f.prompted ? above(last.topHoldS, windows.chargeHoldS, softness.wide) : 0;
  const lives =
    normalStart(last, e.startPeakW, e.idleW, s.width) * (1 - weight.most * holds(last)) * (1 - weight.nearly * fillsIt);
  const scores: Scores = {};
  scores['unraised-dark'] = unraised * dark * dead * hold;
  scores['unraised-low'] = unraised * low * dead * hold * (1 - lives);
  merge(scores, heldPatterns(s, last, 1 - unraised, lives));
  const charging = chargeShare(s);
  // Small devices charge at 5 V as well: an ampere and more is a charge as it should be, unless it is known to raise.
  const plain =
    (1 - raised) *
    (1 - onceRaised) *
    (e.raises < windows.plainChargeUpTo ? 1 : 0) *
    above(tailA, windows.plainChargeA, softness.firm) *
    (1 - lives) *
    dead;
  scores['charge-normal'] = Math.max(
    scores['charge-normal'] ?? 0,
    weight.nearly * plain * either(charging, weight.more) * either(hold, weight.more),
  );
  // Near nothing at 5 V is no hold on a raised contract, whatever the device wants.
  const unheld = (1 - raised) * (scores['dark-hold'] ?? 0);
  scores['dark-hold'] = raised * (scores['dark-hold'] ?? 0);
  scores['unraised-dark'] = Math.max(scores['unraised-dark'], weight.much * unheld);
  scores['charge-refused'] = Math.max(scores['charge-refused'] ?? 0, weight.some * unheld);
  const more = (1 - dark) * (1 - low);
  scores['charge-limited'] = Math.max(
    scores['charge-limited'] ?? 0,
    unraised * more * either(charging, 0.5) * (1 - lives) * (1 - weight.nearly * plain),
  );
  scores['charge-refused'] = Math.max(
    scores['charge-refused'] ?? 0,
    context.deviceState === 'running' ? dark * hold : 0,
  );
  if (context.battery !== 'connected' || f.prompted) {
    const starts = startPatterns(s);
    for (const id of ['surge-on-prompt', 'hiccup', 'restart-loop', 'start-then-off'] as const)
      scores[id] = (starts[id] ?? 0) * (1 - weight.much * charging);
  } else {
    const again = repeats(f.whole, minPulseW(f.whole, e.startPeakW), volts) * (1 - charging);
    scores['restart-loop'] = weight.part * again * (shortPeriod(f.whole) ? 0 : 1);
    scores.hiccup = weight.much * again * (shortPeriod(f.whole) ? 1 : 0);
    const gone = letsGo(last, e.startPeakW, s.width) * (1 - charging);
    for (const id of ['standby-hold', 'partial-hold', 'dark-hold', 'unraised-low'] as const)
      scores[id] = (scores[id] ?? 0) * (1 - gone);
    scores['start-then-off'] = gone;
  }
  scores['normal-start'] = lives * (1 - weight.more * charging);
  scores.erratic = either(
    bus.erratic ?? 0,
    weight.most *
      above(f.whole.dropOuts, windows.count.several, softness.soft) *
      (1 - repeats(f.whole)) *
      (1 - (bus['attach-cycling'] ?? 0)),
  );
  for (const id of Object.keys(scores) as (keyof Scores)[])
    if (id !== 'erratic') scores[id] = (scores[id] ?? 0) * stands;
  scores['no-attach'] = bus['no-attach'] ?? 0;
  scores['attach-cycling'] = bus['attach-cycling'] ?? 0;
  return scores;
}

/** A climb with activity that lets go to a small part of its height: a start that its battery did not carry. */
function letsGo(p: Phase, startPeakW: number, width: number): number {
  // A slow meter makes levels of the bursts: a climb of several steps is activity too.
  const lively = either(
    above(p.burstShare, windows.activeBurstFrom, softness.wide),
    above(p.steps, windows.count.many, softness.soft),
  );
  const looked =
    above(p.peakW, windows.letsGoPeakFrom * startPeakW, width) *
    above(p.steps, windows.count.several, softness.soft) *
    lively;
  return looked * below(p.tailW, windows.letsGoUnderPeak * (p.peakW ?? 0), softness.soft) * holds(p);
}

function shortPeriod(p: Phase): boolean {
  return (p.pulses?.periodS ?? Infinity) < windows.shortPeriodS;
}

function merge(into: Scores, more: Scores): void {
  for (const id of Object.keys(more) as (keyof Scores)[]) into[id] = Math.max(into[id] ?? 0, more[id] ?? 0);
}

/** Holds on a source that gives what the device wants (a raised contract, a DC input, 5 V for a 5 V device), in watts. */
function heldPatterns(s: Sight, last: Phase, supplied: number, lives: number): Scores {
  const { f, context } = s;
  const e = context.expectation;
  const watts = last.tailW ?? f.whole.levelW ?? 0;
  const w = windows.holdWidth;
  const blur = s.blurW;
  const dark = below(Math.max(watts, 1e-4), windows.darkW, w, blur);
  const standby = (1 - dark) * below(watts, windows.standbyW, w, blur);
  const partial = above(watts, windows.standbyW, w, blur) * below(watts, windows.partialW, w, blur);
  const beyond = above(watts, windows.partialW, w, blur);
  const running = context.deviceState === 'running';
  const dead = running ? weight.trace : 1;
  const hold = either(holds(last), 0.5 * holds(f.whole)) * (1 - lives);
  const charging = chargeShare(s);
  const right = smallChargeIsRight(s);
  const enough = above(
    watts,
    windows.chargeNormalFrom * e.chargeW,
    windows.chargeWidth + windows.chargeAllowance * e.allowance,
  );
  const token = below(Math.max(watts, 1e-4), windows.chargeTokenShare * e.chargeW, softness.wide, blur);
  const asked =
    f.prompted || e.startsOnPower || context.question === 'start' || context.deviceState === 'off' ? 1 : weight.much;
  const starting = (1 - charging) * asked;
  const chargeable =
    context.battery === 'connected' ? 1 : context.battery === null && !f.prompted ? weight.much : weight.trace;
  // A battery that takes what it should is charging: that is no hold of a device that does not start.
  const fills = enough * (context.battery === 'connected' ? 1 : weight.part) * (f.prompted ? weight.part : 1);
  // Who complains of the charging, or that it empties, has a device that runs, mostly.
  const saysItLives = context.question === 'charge' || context.question === 'drain';
  const livesBySaying = saysItLives && context.battery === 'connected' ? windows.livesWhoCharges : weight.trace;
  const cycles = repeats(last) * charging;
  const steady = last.rampShare < 0.5 || last.tailSeconds > 2 ? 1 : weight.part;
  const scores: Scores = {
    'dark-hold':
      supplied *
      dark *
      dead *
      hold *
      (charging > windows.chargeShare.sure && right > 0.5 ? weight.some : 1 - 0.5 * livesBySaying),
    'standby-hold': supplied * standby * dead * hold * either(starting, weight.slight) * (1 - weight.most * fills),
    'partial-hold': supplied * partial * dead * hold * either(starting, weight.trace) * (1 - weight.most * fills),
    'stall-mid':
      supplied *
      beyond *
      dead *
      hold *
      (1 - charging) *
      below(watts, windows.stallUnderPeak * e.startPeakW, softness.soft),
    'charge-normal':
      supplied *
      Math.max(charging, weight.most * enough * chargeable) *
      either(enough * either(hold, weight.more), right * (1 - dark) * (1 - enough)) *
      steady *
      (1 - cycles),
    'charge-limited':
      supplied * charging * (1 - enough) * (1 - token) * (1 - weight.nearly * right) * either(hold, cycles),
    'charge-refused': supplied * token * hold * (running ? 1 : livesBySaying * charging) * (1 - weight.most * right),
  };
  return scores;
}

/** DC input: holds in watts before and after the press, and everything a bench supply shows. */
export function dcPatterns(s: Sight): Scores {
  const { f, context } = s;
  const e = context.expectation;
  const bus = busPatterns(s);
  const starts = startPatterns(s);
  const last = s.after ?? f.whole;
  const lives = s.after ? normalStart(s.after, e.startPeakW, e.idleW, s.width) : 0;
  const scores: Scores = { ...starts };
  const limited = f.whole.limitShare;
  const unprompted = !f.prompted && !e.startsOnPower && context.question !== 'charge';
  // With the battery in, what is drawn before the press charges it, up to what the charger gives.
  const beforeW = s.before.levelW ?? 0;
  const charges =
    context.battery === 'connected' ? below(beforeW, windows.chargesUpTo * e.chargeW, softness.medium) : 0;
  const asksToCharge = Math.max(s.quietBefore, charges);
  scores['draw-before-prompt'] = (scores['draw-before-prompt'] ?? 0) * (1 - weight.almost * charges);
  const held = heldPatterns(s, last, 1 - limited, lives);
  for (const id of Object.keys(held) as (keyof Scores)[]) {
    const share = unprompted && (id === 'standby-hold' || id === 'dark-hold') ? weight.much : 1;
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
  const repeated = repeats(phase, minPulseW(phase, e.startPeakW), f.voltage.tail ?? 0);
  for (const id of ['dark-hold', 'standby-hold', 'partial-hold', 'stall-mid'] as const)
    scores[id] = (scores[id] ?? 0) * (1 - repeated);
  if (unprompted) {
    scores.quiet =
      (1 - repeated) *
      s.quietBefore *
      below(f.whole.levelW, windows.standbyW, softness.soft) *
      above(f.whole.levelW, windows.nothingOnPortW, softness.vague) *
      0.5;
    scores['no-draw'] =
      s.quietBefore * below(Math.max(f.whole.levelW ?? 0, 1e-4), windows.nothingOnPortW, softness.vague) * weight.some;
  }
  scores['no-attach'] = 0;
  if (f.voltage.cycles && f.voltage.highest !== null)
    scores.hiccup = Math.max(scores.hiccup ?? 0, weight.more * (bus['attach-cycling'] ?? 0));
  if (f.voltage.absentShare > windows.bus.neverFrom)
    scores['limit-at-once'] = Math.max(scores['limit-at-once'] ?? 0, 0.5);
  return scores;
}

/** Logs that hold only a voltage. */
export function voltagePatterns(s: Sight): Scores {
  const { voltage } = s.f;
  if (voltage.highest === null) return {};
  const never = above(voltage.absentShare, windows.bus.neverFrom, softness.exact);
  const dropped = either(above(voltage.collapses, windows.bus.droppedFrom, softness.soft), 0);
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
      above(voltage.sag, windows.bus.steadySagFrom, softness.exact) *
      (voltage.lostForGood ? weight.slight : 1) *
      smooth,
  };
}
