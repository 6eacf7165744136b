import type { Case, Run } from '../case/index.ts';
import { contextFor } from '../prediction/index.ts';
import type { Level } from '../reasons/index.ts';
import { patternTypes, feedVolts } from '../catalogue/index.ts';
import { recognisePatterns, topPattern, type PatternProbability, type Shape } from '../shape/index.ts';
import rules from './runs.json';

/** A run as the diagnosis knows it: what it is and what was seen in it. */
export interface SeenRun {
  run: Run;
  shape: Shape;
  patterns: PatternProbability[];
  /** Nobody pressed, and what it drew unasked before is gone: it waits for the press as a sound device does. */
  waits: boolean;
}

/** A run with what its shape is recognised as, for a device. */
export function seenRun(value: Case, run: Run, shape: Shape): SeenRun {
  return { run, shape, patterns: recognisePatterns(shape, contextFor(value, run)), waits: false };
}

/** Runs in their order, each with whether it waits, which those before it tell. */
export function withWaiting(runs: readonly SeenRun[]): SeenRun[] {
  return runs.map((one, k) => {
    const { isWaiting = false } = patternTypes[topPattern(one.patterns)];
    const drew = runs.slice(0, k).some((b) => b.run.feed === one.run.feed && isUnasked(b));
    return { ...one, waits: isWaiting && drew && !one.shape.features.prompted };
  });
}

/** Whether a run shows a draw that nobody asked for. */
export const isUnasked = ({ patterns }: Pick<SeenRun, 'patterns'>): boolean =>
  patternTypes[topPattern(patterns)].isUnasked ?? false;

/** Whether a run shows what a healthy device shows in its setup. */
export function isHealthy({ patterns, waits }: Pick<SeenRun, 'patterns' | 'waits'>): boolean {
  return waits || patternTypes[topPattern(patterns)].healthyWhen !== undefined;
}

/** Whether a run shows a device at rest that nobody asked to start. */
export function isAtRest({ patterns, waits }: Pick<SeenRun, 'patterns' | 'waits'>): boolean {
  return waits || patternTypes[topPattern(patterns)].healthyWhen === 'rest';
}

/** A run of one half alone: it says what that half does, nothing of the whole. */
export const isOfHalf = ({ run }: Pick<SeenRun, 'run'>): boolean => run.setup.assembly === 'half';

/** Whether a run of one half shows a start. */
export function runShowsHalfAlive(seen: SeenRun): boolean {
  return isOfHalf(seen) && (patternTypes[topPattern(seen.patterns)].isFullStart ?? false);
}

/** Whether what a run shows lies before the press. */
export function isBefore(seen: SeenRun): boolean {
  return patternTypes[topPattern(seen.patterns)].phase === 'before';
}

/** The level that stands for a run when it is compared: before the press, or the hold at the end. Watts, amperes, volts. */
export function standingLevel(seen: SeenRun, before = isBefore(seen)) {
  const f = seen.shape.features;
  const { resolutionA, voltage } = f;
  const phase = before ? (f.before ?? f.whole) : (f.after ?? f.whole);
  const watts = before ? phase.levelW : (phase.tailW ?? f.whole.levelW);
  const amps = before ? phase.levelA : (phase.tailA ?? f.whole.levelA);
  return { watts, amps, volts: voltage.tail, resolutionA };
}

/**
 * Whether two runs read the same: pattern, contract and level within what the bench repeats.
 *
 * @param a a run of the device
 * @param b another, in whatever setup
 */
export function readsTheSame(a: SeenRun, b: SeenRun): boolean {
  const [x, y] = [standingLevel(a), standingLevel(b)];
  const volts =
    x.volts === null ||
    y.volts === null ||
    Math.abs(x.volts - y.volts) < rules.sameVolts * Math.max(x.volts, y.volts, 1);
  const samePattern = topPattern(a.patterns) === topPattern(b.patterns);
  const isInLimit = patternTypes[topPattern(a.patterns)].isInLimit ?? false;
  if (!volts && !isInLimit) return false;
  if (samePattern && isInLimit) return true;
  if (x.watts === null || y.watts === null) return samePattern;
  const blur =
    rules.blurFactor *
    Math.max(x.resolutionA, y.resolutionA) *
    Math.max(x.volts ?? feedVolts.unknown, y.volts ?? feedVolts.unknown);
  const close = Math.abs(x.watts - y.watts) <= Math.max(blur, rules.closeW);
  const ratio = Math.max(x.watts, y.watts) / Math.max(Math.min(x.watts, y.watts), 1e-6);
  return close || (samePattern && ratio < rules.sameLevelRatio);
}

/** The level of a run; `like` is the run it is compared with, whose phase is taken. */
export function levelOf(seen: SeenRun, like = seen): Level {
  const { amps, volts, resolutionA } = standingLevel(seen, isBefore(like));
  return { run: seen.run.id, amps, volts, resolutionA };
}
