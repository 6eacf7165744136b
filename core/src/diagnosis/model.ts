import { circuitIds, type CheckId, type CircuitId } from '../case/index.ts';
import type { PatternProbability, RunContext } from '../shape/index.ts';

/** One number a circuit, in the order of `circuitIds`. */
export type PerCircuit = number[];

export const indexOf = new Map<CircuitId, number>(circuitIds.map((id, k) => [id, k]));

/** Builds a vector from a table of named circuits and what the others get. */
export function perCircuit(named: Partial<Record<string, number>>, others: number): PerCircuit {
  return circuitIds.map((id) => named[id] ?? others);
}

/** What is known of a run beyond its pattern when its likelihood is asked for. */
export interface RunFacts {
  context: RunContext;
  deviceClass: string;
  family: string;
  /** Which phase the repetition belongs to, for pulses. */
  phase: 'before' | 'after' | null;
}

/** Ways in which two runs, or the state before and after an intervention, can compare. */
export type ComparisonKind =
  | 'ports-same'
  | 'ports-differ'
  | 'flip-same'
  | 'flip-differs'
  | 'battery-out-recovers'
  | 'battery-out-changes'
  | 'battery-out-same'
  | 'display-recovers'
  | 'display-changes'
  | 'display-same'
  | 'unplug-recovers'
  | 'unplug-changes'
  | 'unplug-same'
  | 'charger-recovers'
  | 'charger-same'
  | 'half-starts'
  | 'half-same'
  | 'moved-by-itself'
  | 'feed-pulses'
  | 'level-leak'
  | 'level-short';

/**
 * How likely a piece of evidence is if a given circuit is at fault. Everything else in the diagnosis (priors, grouping,
 * posterior, choice of tests) asks only this; a better model can stand behind it without the rest changing.
 * Likelihoods are relative: only their ratio between circuits counts.
 */
export interface LikelihoodModel {
  run(patterns: PatternProbability[], facts: RunFacts): PerCircuit;
  /** Probability of each outcome of a check for each circuit; null where the model has no opinion on the check. */
  outcomes(check: CheckId): Record<string, PerCircuit> | null;
  comparison(kind: ComparisonKind): PerCircuit;
  /** How well a delay after the press (seconds) fits each circuit. */
  delay(seconds: number, family: string): PerCircuit;
}

/** One item of evidence with its weight for every circuit. */
export interface EvidenceItem {
  /** What it came from, so that repeated evidence can be recognised. */
  source: string;
  sentence: string;
  /** Natural log of the likelihood, up to a constant. */
  logLikelihood: PerCircuit;
  /** The same for every hypothesis, where the twin tells the elements of a circuit apart; wins over `logLikelihood`. */
  fine?: number[];
  /** Parts that were unplugged for it, as a person calls them. */
  unplugged?: string[];
}

/** Turns likelihoods into an item, tempered: evidence from one bench is never quite independent. */
export function evidence(source: string, sentence: string, likelihood: PerCircuit, weight: number): EvidenceItem {
  return { source, sentence, logLikelihood: likelihood.map((x) => weight * Math.log(Math.max(x, 1e-6))) };
}
