import type { PerCircuit } from '../inference/index.ts';
import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import priors from './priors.json';

/** Confirmed causes by circuit, in cases: 1 for one that was measured, less for one that was only cleared. */
export type Counts = Partial<Record<CircuitId, number>>;

/** What the shop has confirmed so far, without the case in hand. Each wider circle holds the narrower ones too. */
export interface ConfirmedCounts {
  model: Counts;
  class: Counts;
  all: Counts;
}

/**
 * The prior after the shop's own cases: Dirichlet counts pooled from all devices over the class to the model. Each
 * level is the prior of the next, worth as many cases as the policy says, so that a few cases of one model tell little
 * and many win (Gelman et al., Bayesian Data Analysis, 3rd ed. 2013, chapter 5).
 *
 * @param prior base rates of the class; sums to 1
 */
export function pooledPrior(prior: PerCircuit, confirmed: ConfirmedCounts): PerCircuit {
  const { all, class: ofClass, model } = priors.worth;
  const after = (base: PerCircuit, counts: Counts, worth: number): PerCircuit => {
    const total = sumOf(counts);
    return base.map((p, k) => (worth * p + (counts[circuitIds[k]] ?? 0)) / (worth + total));
  };
  return after(after(after(prior, confirmed.all, all), confirmed.class, ofClass), confirmed.model, model);
}

/** What the shop's own cases are, in words; null where there are none. */
export function sayConfirmed(confirmed: ConfirmedCounts | undefined): string | null {
  if (!confirmed || sumOf(confirmed.all) === 0) return null;
  const cases = (n: number): string => `${Math.round(n)} ${Math.round(n) === 1 ? 'case' : 'cases'}`;
  return `confirmed here before: ${cases(sumOf(confirmed.model))} of this model, ${cases(sumOf(confirmed.class))} of this kind of device`;
}

function sumOf(counts: Counts): number {
  return Object.values(counts).reduce((sum, n) => sum + n, 0);
}
