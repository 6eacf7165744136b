import { gammaln } from 'simple-statistics';
import { circuitIds, type DeviceClass } from '../catalogue/index.ts';
import { baseRates, pooledPrior, usualWorth, type Counts, type PoolingWorth } from '../hypotheses/index.ts';
import type { PerCircuit } from '../inference/index.ts';
import settings from './pooling.json';

/** Confirmed causes of one model, in cases. */
export interface ModelCounts {
  model: string;
  deviceClass: DeviceClass;
  counts: Counts;
}

/**
 * How many cases of a model, of a class and of all devices it takes to move what is believed before anything was seen: that
 * under which the confirmed causes are likeliest, held to what is usual by a log-normal prior (empirical Bayes; Minka,
 * Estimating a Dirichlet distribution, 2000). Models that fail alike give much worth to what is wider; models that have their
 * own weak spots give little.
 *
 * @param models confirmed causes by model
 * @returns the usual worth where there are no cases
 */
export function learnedWorth(models: readonly ModelCounts[]): PoolingWorth {
  const classes = [...new Set(models.map((m) => m.deviceClass))];
  const all = sum(models);
  const ofClass = (c: DeviceClass, without?: ModelCounts): Counts =>
    sum(models.filter((m) => m.deviceClass === c && m !== without));
  const worthOfClass = best(usualWorth.class, (worth) =>
    classes.reduce((total, c) => {
      const others = sum(models.filter((m) => m.deviceClass !== c));
      const base = pooledPrior(baseRates(c), { all: others, class: {}, model: {} });
      return total + logMarginal(ofClass(c), base, worth);
    }, 0),
  );
  const found = { ...usualWorth, class: worthOfClass };
  const worthOfModel = best(usualWorth.model, (worth) =>
    models.reduce((total, m) => {
      const counts = { all: less(all, m.counts), class: ofClass(m.deviceClass, m), model: {}, worth: found };
      return total + logMarginal(m.counts, pooledPrior(baseRates(m.deviceClass), counts), worth);
    }, 0),
  );
  return { ...found, model: worthOfModel };
}

/** The worth on a grid of factors that is likeliest with its prior. */
function best(usual: number, logLikelihood: (worth: number) => number): number {
  const scored = settings.factors.map((factor) => ({
    worth: usual * factor,
    log: logLikelihood(usual * factor) - (Math.log(factor) / settings.spread) ** 2 / 2,
  }));
  return scored.reduce((a, b) => (b.log > a.log ? b : a)).worth;
}

/** Natural log of the probability of counts under a Dirichlet prior (Polya distribution), up to their multinomial factor. */
function logMarginal(counts: Counts, base: PerCircuit, worth: number): number {
  const n = circuitIds.reduce((total, id) => total + (counts[id] ?? 0), 0);
  if (n === 0) return 0;
  return circuitIds.reduce(
    (log, id, k) => {
      const x = counts[id] ?? 0;
      return x === 0 ? log : log + gammaln(worth * base[k] + x) - gammaln(worth * base[k]);
    },
    gammaln(worth) - gammaln(worth + n),
  );
}

function sum(list: readonly ModelCounts[]): Counts {
  const out: Counts = {};
  for (const { counts } of list) for (const id of circuitIds) if (counts[id]) out[id] = (out[id] ?? 0) + counts[id];
  return out;
}

function less(from: Counts, counts: Counts): Counts {
  return Object.fromEntries(circuitIds.map((id) => [id, Math.max(0, (from[id] ?? 0) - (counts[id] ?? 0))]));
}
