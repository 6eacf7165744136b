import type { Features, PatternProbability, Phase } from '../shape/index.ts';
import settings from './data/fit.json';

/** How closely a profile stands for the device: its own, or the generic one of the class. */
export type Closeness = 'own' | 'generic';

export interface Seen {
  features: Features;
  patterns: PatternProbability[];
}

/** Natural log of a Student density with few degrees of freedom, 0 at its top: robust against what nobody foresaw. */
function density(distance: number): number {
  const { freedom } = settings;
  return -0.5 * (freedom + 1) * Math.log(1 + (distance * distance) / freedom);
}

const misfit = density(settings.unmodelledAt);

/** Whether a phase stands where the one before it stood. */
function unchanged(before: Phase | null, after: Phase): boolean {
  const [a, b] = [before?.levelW ?? null, after.tailW];
  return a !== null && b !== null && Math.abs(Math.log((a + 0.01) / (b + 0.01))) < 0.15 && after.pulses === null;
}

/** Terms of the comparison that both sides have; each a distance in allowances with its weight. */
function distances(seen: Features, predicted: Features, closeness: Closeness, timed: boolean): [number, number][] {
  const blurW =
    Math.max(seen.resolutionA, seen.noiseA) * Math.max(seen.voltage.highest ?? predicted.voltage.highest ?? 4, 1);
  const out: [number, number][] = [];
  const level = (a: number | null | undefined, b: number | null | undefined, weight: number): void => {
    if (a == null || b == null) return;
    const scale = (w: number): number => Math.asinh(Math.max(0, w) / Math.max(0.7 * blurW, 0.012));
    out.push([(scale(a) - scale(b)) / settings.levelAllowance[closeness], weight]);
  };
  const time = (a: number | null | undefined, b: number | null | undefined, weight: number): void => {
    if (a == null || b == null || !timed) return;
    const floor = settings.delayFloorS + seen.intervalS;
    out.push([
      Math.log((Math.max(0, a) + floor) / (Math.max(0, b) + floor)) / settings.timeAllowance[closeness],
      weight,
    ]);
  };
  const phase = (a: Phase | null, b: Phase | null, isAfter: boolean): void => {
    if (!a || !b || a.seconds < 0.3 || b.seconds < 0.3) return;
    const repeats = a.pulses !== null && b.pulses !== null;
    // The phases of one run are off together: a level that only stays where it was is not a second witness.
    const stays = isAfter && unchanged(seen.before, a) && unchanged(predicted.before, b);
    const { main, middle, tail, peak } = settings.levelWeights;
    if (!stays) {
      level(
        a.pulses ? a.pulses.highA * volts : a.levelW,
        b.pulses ? b.pulses.highA * volts : b.levelW,
        isAfter ? middle : main,
      );
      if (isAfter && !repeats) level(a.tailW, b.tailW, tail);
      if (isAfter) level(a.peakW, b.peakW, peak);
    }
    if (!isAfter) return;
    time(a.riseAfterS, b.riseAfterS, 0.5 * settings.timeWeight);
    time(a.lastStepAfterS, b.lastStepAfterS, settings.timeWeight);
    if (repeats && a.pulses && b.pulses)
      out.push([
        Math.log(a.pulses.periodS / b.pulses.periodS) / settings.periodAllowance[closeness],
        settings.timeWeight,
      ]);
  };
  const volts = seen.voltage.highest ?? predicted.voltage.highest ?? 4;
  if (seen.before && predicted.before) {
    phase(seen.before, predicted.before, false);
    phase(seen.after, predicted.after, true);
  } else phase(seen.whole, predicted.whole, true);
  const [a, b] = [seen.voltage.highest, predicted.voltage.highest];
  if (a !== null && b !== null) out.push([Math.log((a + 0.5) / (b + 0.5)) / settings.voltAllowance, 0.5]);
  return out;
}

/** Probability that two lists of patterns mean the same one. */
function agreement(seen: PatternProbability[], predicted: Map<string, number>): number {
  let sum = 0;
  for (const { id, p } of seen) if (id !== 'unrecognised') sum += p * (predicted.get(id) ?? 0);
  return sum;
}

/** Natural logs of likelihoods, up to constants that are the same for all hypotheses of one run. */
export interface Fit {
  /** That the hypothesis brings the pattern which was seen. */
  pattern: number;
  /** Levels, delays, period and contract. */
  details: number;
  /** Probability that it shows the pattern which was seen, 0 to 1. */
  agreement: number;
}

/**
 * How well a hypothesis explains what was seen, by comparing it with what its twin shows in the same setup: pattern,
 * levels on a scale that stretches small ones, delays, period, contract.
 *
 * @param timed false where the moments were not measured (typed readings): delays then do not count
 */
export function fitOf(seen: Seen, predicted: Seen, closeness: Closeness, timed: boolean): Fit {
  const shares = new Map<string, number>(predicted.patterns.map(({ id, p }) => [id, p]));
  const same = agreement(seen.patterns, shares);
  const terms = distances(seen.features, predicted.features, closeness, timed);
  return {
    pattern: settings.patternWeight * Math.log(settings.patternFloor + (1 - settings.patternFloor) * same),
    details: terms.reduce((sum, [d, weight]) => sum + weight * density(d), 0),
    agreement: same,
  };
}

/** The same for a cause that nothing in the profile stands for: broad, and never good. */
export function fitOfNothing(seen: Seen, like: Seen, closeness: Closeness, timed: boolean): Fit {
  const terms = distances(seen.features, like.features, closeness, timed);
  const unrecognised = seen.patterns.find((p) => p.id === 'unrecognised')?.p ?? 0;
  const same = settings.unmodelledAgreement + (1 - settings.unmodelledAgreement) * unrecognised;
  return {
    pattern: settings.patternWeight * Math.log(settings.patternFloor + (1 - settings.patternFloor) * same),
    details: terms.reduce((sum, [, weight]) => sum + weight * misfit, 0),
    agreement: same,
  };
}
