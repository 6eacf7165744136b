import { patternInputsOf, type RunContext } from './context.ts';
import { dcPatterns, usbPatterns, voltagePatterns } from './patterns-port.ts';
import { startPatterns } from './patterns-start.ts';
import { type Scores } from './phase-scores.ts';
import { membershipAbove, noisyOr } from './membership.ts';
import windows from './windows.json';
import { patternIds, unrecognised, type PatternId } from '../catalogue/index.ts';
import { type Features, type PatternProbability, type Shape } from './types.ts';

const { softness, weight } = windows;

/**
 * A probability for every pattern of the field guide, `unrecognised` among them, from soft windows around what the
 * device should do in this setup. Sums to 1; most likely first.
 *
 * @param shape features and segments of one run
 * @param context the device, its setup and what a healthy unit draws
 */
export function recognisePatterns(shape: Shape, context: RunContext): PatternProbability[] {
  const f = shape.features;
  const scores = nothingMeasured(f) ? {} : scoresOf(f, context);
  const strange = strangeness(f, context);
  const p: Record<string, number> = {};
  let sum = 0;
  for (const id of patternIds) {
    const score = id === unrecognised ? windows.unknown + strange : (scores[id] ?? 0) * (1 - strange);
    p[id] = Math.max(Number.isFinite(score) ? score : 0, 1e-5);
    sum += p[id];
  }
  return patternIds.map((id) => ({ id, p: p[id] / sum })).sort((a, b) => b.p - a.p);
}

function nothingMeasured(f: Features): boolean {
  return f.whole.levelA === null && f.voltage.highest === null && f.whole.limitShare === 0;
}

function scoresOf(f: Features, context: RunContext): Scores {
  const sight = patternInputsOf(f, context);
  if (context.quantity === 'voltage-only') return voltagePatterns(sight);
  if (context.feed === 'usb-c') return usbPatterns(sight);
  if (context.feed === 'dc-in') return dcPatterns(sight);
  return startPatterns(sight);
}

/** How strongly the draw follows nothing that a device does: contradictions, smooth swings, endless ramps. */
function strangeness(f: Features, context: RunContext): number {
  const contradicted = f.contradictions.length > 0 ? weight.most : 0;
  const charging = context.feed !== 'battery' && context.quantity === 'current';
  const allowed = charging ? windows.strange.smoothCharging : windows.strange.smoothFrom;
  const smooth = Math.max(0, f.smoothShare - allowed) / (1 - allowed);
  const before = f.before;
  const unasked =
    before !== null && context.deviceState !== 'running' && context.feed === 'battery'
      ? before.burstShare *
        membershipAbove(
          before.levelW,
          windows.strange.quiescentFactor * context.expectation.quiescentW + windows.floorW,
          softness.wide,
        )
      : 0;
  return noisyOr(
    contradicted,
    Math.min(1, windows.strange.smoothFactor * smooth),
    weight.more * unasked,
    switching(f, context),
    filament(f, context),
  );
}

/** A plain on and off that nobody asked for (a thermostat): a start-up that repeats has steps, and a press before it. */
function switching(f: Features, context: RunContext): number {
  const { pulses } = f.whole;
  const selfStarting = context.feed === 'usb-c' || (context.feed === 'dc-in' && context.expectation.startsOnPower);
  if (!pulses || pulses.periodS < windows.switchingFromS || selfStarting || context.quantity === 'voltage-only')
    return 0;
  const drewBefore = (f.before?.peakA ?? 0) > windows.strange.drewBeforeFrom * pulses.highA;
  const asked =
    f.promptT !== null && pulses.t0 >= f.promptT - windows.strange.pressSlack * pulses.periodS && !drewBefore;
  return asked ? 0 : weight.most * membershipAbove(pulses.flatTop, windows.strange.flatTopFrom, softness.sharp);
}

/** A draw that starts high, falls off as something warms, and then ignores every press. */
function filament(f: Features, context: RunContext): number {
  if (!f.startsHot || context.feed !== 'battery') return 0;
  const before = f.before?.levelA ?? f.whole.levelA ?? 0;
  const after = f.after?.levelA ?? before;
  return Math.abs(after - before) < windows.strange.filamentWithin * before ? weight.more : 0;
}

/**
 * The most likely pattern of a list.
 *
 * @param list sorted by probability, the largest first
 * @returns `unrecognised` for an empty list
 */
export function topPattern(list: PatternProbability[]): PatternId {
  return list[0]?.id ?? unrecognised;
}
