import type { Case } from '../case/index.ts';
import { contextFor } from './expectation.ts';
import { predictAll, twinSetupOf, type DeviceTwin } from './device-twin.ts';
import settings from './fit.json';
import {
  compareShapes,
  fitBetween,
  fitOf,
  fitOfNothing,
  weightOf,
  costOf,
  type Comparison,
  type Fit,
  type Seen,
} from './fit.ts';
import { logSumExp, type PerHypothesis } from '../inference/index.ts';
import type { Hypothesis } from '../hypotheses/index.ts';
import type { Shape } from '../shape/index.ts';
import type { Fault } from '../twin/index.ts';

/** How well a profile explains a run. */
export interface RunFit {
  /** By hypothesis, relative to the mean over what is believed before anything was seen: above 1 speaks for it. */
  likelihood: PerHypothesis;
  /** Weight of everything that could be compared. */
  weight: number;
  /**
   * Natural logs by hypothesis, to be held against those of another profile; null for what cannot be simulated.
   *
   * @param most weight of everything that could be compared with either
   */
  against: (most: number) => (number | null)[];
}

/**
 * How well the twin of the model's own profile explains a run under every hypothesis. Null where the twin cannot stand in the setup.
 *
 * @param prior by hypothesis
 * @param unplugged ids of what is off the board besides what the setup says
 */
export function runFit(
  value: Case,
  run: Case['runs'][number],
  shape: Shape,
  observed: Seen,
  twin: DeviceTwin,
  prior: PerHypothesis,
  unplugged: readonly string[],
): RunFit | null {
  const stood = twinSetupOf(twin, run, shape);
  if (!stood) return null;
  const setup = { ...stood, unplugged: [...stood.unplugged, ...unplugged] };
  const f = shape.features;
  const typed = run.instrument.kind === 'eye' || run.typed !== null;
  const intervalS = typed ? settings.eyeIntervalS : Math.min(f.intervalS, 2);
  const limits = { noiseA: f.noiseA, resolutionA: f.resolutionA, intervalS };
  const predicted = predictAll(twin, setup, limits, contextFor(value, run));
  const compared = predicted.map((p) => (p === null ? null : compareShapes(observed, p, twin.closeness, !typed)));
  const like = compared.find((c) => c !== null);
  if (!like) return null;
  const nothing = fitOfNothing(observed, like);
  const logs = compared.map((c, h): number | null => {
    const fit =
      c !== null
        ? acrossSeverities(twin.hypotheses, compared, h, c)
        : twin.hypotheses[h].circuit === 'unmodelled'
          ? nothing
          : null;
    return fit === null ? null : fit.pattern + fit.details;
  });
  const known = logs.flatMap((x, h) => (x === null ? [] : [h]));
  const mean =
    logSumExp(known.map((h) => (logs[h] ?? 0) + Math.log(prior[h]))) -
    Math.log(known.reduce((s, h) => s + prior[h], 0));
  // What cannot be simulated is neither helped nor harmed by the twin.
  return {
    likelihood: logs.map((x) => (x === null ? 1 : Math.exp(x - mean))),
    weight: Math.max(...compared.map((c) => (c ? weightOf(c) : 0))),
    against: (most) => logs.map((x, h) => (x === null ? null : x - costOf(compared[h] ?? like, most))),
  };
}

/** A severity of the grid stands for all up to half way to its neighbours: the mean likelihood of some of them. */
function acrossSeverities(
  hypotheses: readonly Hypothesis[],
  compared: (Comparison | null)[],
  h: number,
  own: Comparison,
): Fit {
  const fits = [fitOf(own)];
  for (const neighbour of [h - 1, h + 1]) {
    const other = compared[neighbour];
    if (!other || !sameButSeverity(hypotheses[h].fault, hypotheses[neighbour].fault)) continue;
    for (const share of settings.betweenSeverities) {
      const fit = fitBetween(own, other, share);
      if (fit) fits.push(fit);
    }
  }
  if (fits.length === 1) return fits[0];
  const mean = (of: (f: Fit) => number): number => logSumExp(fits.map(of)) - Math.log(fits.length);
  const pattern = mean((f) => f.pattern);
  return { pattern, details: mean((f) => f.pattern + f.details) - pattern, agreement: fits[0].agreement };
}

function sameButSeverity(a: Fault | null, b: Fault | null): boolean {
  if (!a || !b || a.value === null || b.value === null) return false;
  return a.kind === b.kind && a.at === b.at && a.side === b.side;
}
