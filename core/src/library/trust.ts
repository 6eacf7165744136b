import { usualTrust, type Trust } from '../observation/index.ts';
import { logSumExp } from '../inference/index.ts';
import settings from './trust.json';

/** Every trust in the sources that is tried on a confirmed case, the usual one first. */
export const trustsTried: readonly Trust[] = settings.population.flatMap((population) =>
  settings.sharpness.map((sharpness) => ({ population, sharpness })),
);

/** How a confirmed case would have been called under each of `trustsTried`: natural log of what its circuit got. */
export interface TrustScores {
  model: string;
  deviceClass: string;
  /** What the case teaches, 0 to 1. */
  weight: number;
  scores: readonly number[];
}

/**
 * How far the sources are to be trusted for a device, by how confirmed cases would have been called: the mean over all that
 * were tried, each by its probability (Bayesian model averaging; Hoeting et al. 1999). Cases of the model count in full, of
 * the class and of other devices less; without cases it is as usual.
 *
 * @param cases how each confirmed case would have been called, outside only, without the case in hand
 */
export function learnedTrust(cases: readonly TrustScores[], model: string, deviceClass: string): Trust {
  const { prior, worth } = settings;
  const logs = trustsTried.map((trust, k) => {
    const before =
      trust.population === usualTrust.population && trust.sharpness === usualTrust.sharpness
        ? Math.log(prior.usual)
        : Math.log((1 - prior.usual) / (trustsTried.length - 1));
    return cases.reduce((sum, one) => {
      const counts =
        model !== '' && one.model === model ? worth.model : one.deviceClass === deviceClass ? worth.class : worth.all;
      return one.scores.length === trustsTried.length ? sum + counts * one.weight * one.scores[k] : sum;
    }, before);
  });
  const total = logSumExp(logs);
  const mean = (of: (t: Trust) => number): number =>
    trustsTried.reduce((sum, t, k) => sum + Math.exp(logs[k] - total) * of(t), 0);
  const population = mean((t) => t.population ?? 0);
  return {
    population: population < settings.leastPopulation ? null : population,
    sharpness: mean((t) => t.sharpness),
  };
}
