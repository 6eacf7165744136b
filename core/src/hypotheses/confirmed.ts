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
  /** How many cases each wider circle is worth; the usual where left out. */
  worth?: PoolingWorth;
}

/** How many cases what is believed of a circle is worth to the next narrower one. */
export interface PoolingWorth {
  all: number;
  class: number;
  model: number;
}

export const usualWorth: PoolingWorth = priors.worth;

/**
 * The prior after the shop's own cases: Dirichlet counts pooled from all devices over the class to the model. Each
 * level is the prior of the next, worth as many cases as was learned or is usual, so that a few cases of one model tell little
 * and many win (Gelman et al., Bayesian Data Analysis, 3rd ed. 2013, chapter 5).
 *
 * @param prior base rates of the class; sums to 1
 */
export function pooledPrior(prior: PerCircuit, confirmed: ConfirmedCounts): PerCircuit {
  const { all, class: ofClass, model } = confirmed.worth ?? usualWorth;
  const after = (base: PerCircuit, counts: Counts, worth: number): PerCircuit => {
    const total = sumOf(counts);
    return base.map((p, k) => (worth * p + (counts[circuitIds[k]] ?? 0)) / (worth + total));
  };
  // A case that counts for its model has not to count for the class and for all once more.
  const wide = after(prior, less(confirmed.all, confirmed.class), all);
  return after(after(wide, less(confirmed.class, confirmed.model), ofClass), confirmed.model, model);
}

/** What a wider circle holds beyond a narrower one. */
function less(wide: Counts, narrow: Counts): Counts {
  return Object.fromEntries(circuitIds.map((id) => [id, Math.max(0, (wide[id] ?? 0) - (narrow[id] ?? 0))]));
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
