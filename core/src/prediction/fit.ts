import { feedVolts, unrecognised } from '../catalogue/index.ts';
import type { Features, PatternProbability, Phase } from '../shape/index.ts';
import settings from './fit.json';

/** How closely a profile stands for the device: its own, or the generic one of the class. */
export type Closeness = 'own' | 'generic';

export interface Seen {
  features: Features;
  patterns: PatternProbability[];
}

/** Natural log of a Student density with few degrees of freedom, 0 at its top: robust against what nobody foresaw. */
function density(distance: number): number {
  const { freedom } = settings;
  return -((freedom + 1) / 2) * Math.log(1 + (distance * distance) / freedom);
}

const misfit = density(settings.unmodelledAt);

/** Whether a phase stands where the one before it stood. */
function unchanged(before: Phase | null, after: Phase): boolean {
  const [a, b] = [before?.levelW ?? null, after.tailW];
  return (
    a !== null &&
    b !== null &&
    Math.abs(Math.log((a + settings.sameRestA) / (b + settings.sameRestA))) < settings.sameRest &&
    after.pulses === null
  );
}

/** What of a run is compared with what the twin shows. */
export type TermName =
  'before' | 'middle' | 'tail' | 'peak' | 'pulse' | 'rise' | 'last-step' | 'period' | 'course' | 'contract';

/** One comparison: what was seen and what the twin shows, in watts, seconds or volts, and how far apart they are. */
export interface Term {
  name: TermName;
  seen: number;
  predicted: number;
  /** In allowances, signed: positive where more was seen than predicted. */
  distance: number;
  /** Natural log of the allowance over that of an own profile: what a broad model pays for explaining more. */
  width: number;
  weight: number;
}

/** Weight of all comparisons together. */
export const weightOf = ({ terms }: Comparison): number => terms.reduce((sum, t) => sum + t.weight, 0);

/**
 * What a comparison costs beside how well it fits, for two profiles to be held against each other: the widths that it allows, and
 * everything that was seen and that the profile does not show at all, as far off as what nothing stands for.
 *
 * @param most weight of everything that could be compared
 */
export const costOf = (comparison: Comparison, most: number): number =>
  comparison.terms.reduce((sum, t) => sum + t.weight * t.width, 0) - misfit * Math.max(0, most - weightOf(comparison));

/** Comparisons that both sides allow. */
function termsOf(seen: Features, predicted: Features, closeness: Closeness, timed: boolean): Term[] {
  const blurW =
    Math.max(seen.resolutionA, seen.noiseA) *
    Math.max(seen.voltage.highest ?? predicted.voltage.highest ?? feedVolts.unknown, 1);
  const out: Term[] = [];
  const widthOf = (of: Record<Closeness, number>): number => Math.log(of[closeness] / of.own);
  const level = (name: TermName, a: number | null | undefined, b: number | null | undefined, weight: number): void => {
    if (a == null || b == null) return;
    const scale = (w: number): number =>
      Math.asinh(Math.max(0, w) / Math.max(settings.levelBlur * blurW, settings.levelFloorW));
    const distance = (scale(a) - scale(b)) / settings.levelAllowance[closeness];
    out.push({ name, seen: a, predicted: b, distance, width: widthOf(settings.levelAllowance), weight });
  };
  const time = (name: TermName, a: number | null | undefined, b: number | null | undefined, weight: number): void => {
    if (!timed || (a == null && b == null)) return;
    const width = widthOf(settings.timeAllowance);
    // A rise that was seen and is not predicted, or the other way round, is as far off as what nothing stands for.
    if (a == null || b == null) {
      out.push({ name, seen: a ?? 0, predicted: b ?? 0, distance: settings.unmodelledAt, width, weight });
      return;
    }
    const floor = settings.delayFloorS + seen.intervalS;
    const ratio = (Math.max(0, a) + floor) / (Math.max(0, b) + floor);
    out.push({
      name,
      seen: a,
      predicted: b,
      distance: Math.log(ratio) / settings.timeAllowance[closeness],
      width,
      weight,
    });
  };
  const volts = seen.voltage.highest ?? predicted.voltage.highest ?? feedVolts.unknown;
  const phase = (a: Phase | null, b: Phase | null, isAfter: boolean): void => {
    if (!a || !b || a.seconds < settings.minPhaseS || b.seconds < settings.minPhaseS) return;
    const repeats = a.pulses !== null && b.pulses !== null;
    // The phases of one run are off together: a level that only stays where it was is not a second witness.
    const stays = isAfter && unchanged(seen.before, a) && unchanged(predicted.before, b);
    const { before, middle, tail, peak, pulse } = settings.weights;
    if (!stays) {
      const height = (x: Phase): number | null => (x.pulses ? x.pulses.highA * volts : x.levelW);
      if (repeats) level('pulse', height(a), height(b), pulse);
      else level(isAfter ? 'middle' : 'before', height(a), height(b), isAfter ? middle : before);
      if (isAfter && !repeats) level('tail', a.tailW, b.tailW, tail);
      if (isAfter) level('peak', a.peakW, b.peakW, peak);
    }
    if (!isAfter) return;
    time('rise', a.riseAfterS, b.riseAfterS, settings.weights.rise);
    time('last-step', a.lastStepAfterS, b.lastStepAfterS, settings.weights.lastStep);
    if (repeats && a.pulses && b.pulses) {
      const [x, y] = [a.pulses.periodS, b.pulses.periodS];
      const distance = Math.log(x / y) / settings.periodAllowance[closeness];
      out.push({
        name: 'period',
        seen: x,
        predicted: y,
        distance,
        width: widthOf(settings.periodAllowance),
        weight: settings.weights.period,
      });
    }
  };
  if (seen.before && predicted.before) {
    phase(seen.before, predicted.before, false);
    phase(seen.after, predicted.after, true);
  } else phase(seen.whole, predicted.whole, true);
  // Shapes that were kept before courses were measured have none.
  if (timed) (seen.course ?? []).forEach((a, k) => level('course', a, predicted.course[k], settings.weights.course));
  const [a, b] = [seen.voltage.highest, predicted.voltage.highest];
  if (a !== null && b !== null) {
    const distance = Math.log((a + 0.5) / (b + 0.5)) / settings.voltAllowance;
    out.push({ name: 'contract', seen: a, predicted: b, distance, width: 0, weight: settings.weights.contract });
  }
  return out;
}

/**
 * How far two lists of patterns mean the same one, 0 to 1: the probability that they do, in part made good for what two
 * equal lists that are both unsure would lack.
 */
function agreement(seen: PatternProbability[], predicted: PatternProbability[]): number {
  const shares = new Map<string, number>(predicted.map(({ id, p }) => [id, p]));
  let [same, own, other] = [0, 0, 0];
  for (const { id, p } of seen) {
    if (id === unrecognised) continue;
    same += p * (shares.get(id) ?? 0);
    own += p * p;
  }
  for (const { id, p } of predicted) if (id !== unrecognised) other += p * p;
  const most = Math.sqrt(own * other);
  return most < 1e-9 ? 0 : Math.min(1, same / most ** settings.agreementMadeGood);
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

/** What was seen beside what a hypothesis shows. */
export interface Comparison {
  terms: Term[];
  agreement: number;
}

/**
 * Compares what was seen with what a twin shows in the same setup: pattern, levels on a scale that stretches small ones,
 * the course after the press, period, contract.
 *
 * @param timed false where the moments were not measured (typed readings): delays and courses then do not count
 */
export function compareShapes(seen: Seen, predicted: Seen, closeness: Closeness, timed: boolean): Comparison {
  return {
    terms: termsOf(seen.features, predicted.features, closeness, timed),
    agreement: agreement(seen.patterns, predicted.patterns),
  };
}

/** How well a hypothesis explains what was seen. */
export function fitOf({ terms, agreement }: Comparison): Fit {
  return {
    pattern: patternFit(agreement),
    details: terms.reduce((sum, t) => sum + t.weight * density(t.distance), 0),
    agreement,
  };
}

/**
 * The same for a severity between two steps of the grid, a share of the way from the first to the second. Null where
 * the two show different things, so that nothing lies between them.
 *
 * @param first agreement at one severity
 * @param second at the next one
 * @param share 0 to 1, of the way from the first to the second
 */
export function fitBetween(first: Comparison, second: Comparison, share: number): Fit | null {
  if (first.terms.length !== second.terms.length) return null;
  let details = 0;
  for (let k = 0; k < first.terms.length; k++) {
    const [a, b] = [first.terms[k], second.terms[k]];
    if (a.name !== b.name) return null;
    details += a.weight * density((1 - share) * a.distance + share * b.distance);
  }
  const agreement = (1 - share) * first.agreement + share * second.agreement;
  return { pattern: patternFit(agreement), details, agreement };
}

/** The same for a cause that nothing in the profile stands for: broad, and never good. */
export function fitOfNothing(seen: Seen, like: Comparison): Fit {
  const unknown = seen.patterns.find((p) => p.id === unrecognised)?.p ?? 0;
  const agreement = settings.unmodelledAgreement + (1 - settings.unmodelledAgreement) * unknown;
  return {
    pattern: patternFit(agreement),
    details: like.terms.reduce((sum, t) => sum + t.weight * misfit, 0),
    agreement,
  };
}

function patternFit(agreement: number): number {
  return settings.patternWeight * Math.log(settings.patternFloor + (1 - settings.patternFloor) * agreement);
}
