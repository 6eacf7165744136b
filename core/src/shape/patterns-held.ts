import { membershipAbove, membershipBelow, noisyOr } from './membership.ts';
import { holdScore, repeatScore, type Scores } from './phase-scores.ts';
import windows from './windows.json';
import type { Sight } from './context.ts';
import type { Phase } from './types.ts';

const { softness, weight } = windows;

/** How likely the run shows charging rather than an attempt to start: 0 to 1. */
export function chargeShare(s: Sight): number {
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
  return noisyOr(
    membershipBelow(batteryV, emptyV, windows.batteryEmptyWidth),
    membershipAbove(batteryV, fullV, windows.batteryFullWidth),
  );
}

/**
 * Holds on a source that gives what the device wants (a raised contract, a DC input, 5 V for a 5 V device), in watts.
 *
 * @param last the phase that holds at the end
 * @param supplied 0 to 1: the source gives what the device wants
 * @param lives 0 to 1: it starts as it should
 */
export function heldPatterns(s: Sight, last: Phase, supplied: number, lives: number): Scores {
  const { f, context } = s;
  const e = context.expectation;
  const watts = last.tailW ?? f.whole.levelW ?? 0;
  const w = windows.holdWidth;
  const blur = s.blurW;
  const dark = membershipBelow(Math.max(watts, 1e-4), windows.darkW, w, blur);
  const standby = (1 - dark) * membershipBelow(watts, windows.standbyW, w, blur);
  const partial = membershipAbove(watts, windows.standbyW, w, blur) * membershipBelow(watts, windows.partialW, w, blur);
  const beyond = membershipAbove(watts, windows.partialW, w, blur);
  const running = context.deviceState === 'running';
  const dead = running ? weight.trace : 1;
  const hold = noisyOr(holdScore(last), 0.5 * holdScore(f.whole)) * (1 - lives);
  const deadHold = supplied * dead * hold;
  const charging = chargeShare(s);
  const right = smallChargeIsRight(s);
  const enough = membershipAbove(watts, e.chargeFromW, windows.chargeWidth + windows.chargeAllowance * e.allowance);
  const token = membershipBelow(Math.max(watts, 1e-4), windows.chargeTokenShare * e.chargeW, softness.wide, blur);
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
  const cycles = repeatScore(last) * charging;
  const steady = last.rampShare < 0.5 || last.tailSeconds > 2 ? 1 : weight.part;
  return {
    'dark-hold':
      deadHold * dark * (charging > windows.chargeShare.sure && right > 0.5 ? weight.some : 1 - 0.5 * livesBySaying),
    'standby-hold': deadHold * standby * noisyOr(starting, weight.slight) * (1 - weight.most * fills),
    'partial-hold': deadHold * partial * noisyOr(starting, weight.trace) * (1 - weight.most * fills),
    'stall-mid':
      deadHold *
      beyond *
      (1 - charging) *
      (f.prompted || context.battery === 'absent' || context.battery === 'disconnected'
        ? 1
        : 1 - weight.most * enough) *
      membershipBelow(watts, windows.stallUnderPeak * e.startPeakW, softness.soft),
    'charge-normal':
      supplied *
      Math.max(charging, weight.most * enough * chargeable) *
      noisyOr(enough * noisyOr(hold, weight.more), right * (1 - dark) * (1 - enough)) *
      steady *
      (1 - cycles) *
      // A charge that lets go again and again is none as it should be.
      (1 - weight.much * membershipAbove(last.dropOuts, windows.count.one, softness.soft)),
    'charge-limited':
      supplied * charging * (1 - enough) * (1 - token) * (1 - weight.nearly * right) * noisyOr(hold, cycles),
    'charge-refused': supplied * token * hold * (running ? 1 : livesBySaying * charging) * (1 - weight.most * right),
  };
}
