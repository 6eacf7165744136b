import type { Case, CircuitId, Run } from '../case/index.ts';
import { recognise, type Shape } from '../shape/index.ts';
import { startUp, type Profile } from '../twin/index.ts';
import settings from './data/fit.json';
import { contextFor } from './expectation.ts';
import { deviceTwinOf, predictAll, twinSetupOf } from './device-twin.ts';
import { compare, fitOf } from './fit.ts';

/** A stretch of what a suspect would draw in the setup of a run: seconds of the run, amperes at the feed. */
export interface PredictedStretch {
  t0: number;
  t1: number;
  low: number;
  high: number;
}

/**
 * What the best explanation within a circuit would have drawn in this run's setup, with the allowance of its profile.
 * The healthy device for `none`. Empty where the twin cannot tell.
 */
export function predictedDraw(
  value: Case,
  run: Run,
  shape: Shape,
  circuit: CircuitId,
  profiles?: ReadonlyMap<string, Profile>,
): PredictedStretch[] {
  const twin = deviceTwinOf(value.device, value.runs, profiles);
  const setup = twinSetupOf(twin, run, shape);
  if (!setup) return [];
  const f = shape.features;
  const eye = {
    noiseA: f.noiseA,
    resolutionA: f.resolutionA,
    intervalS: Math.min(f.intervalS || settings.eyeIntervalS, 2),
  };
  const context = contextFor(value, run);
  const observed = { features: f, patterns: recognise(shape, context) };
  let best: { score: number; h: number } | null = null;
  predictAll(twin, setup, eye, context).forEach((p, h) => {
    if (p === null || twin.hypotheses[h].circuit !== circuit) return;
    const fit = fitOf(compare(observed, p, twin.closeness, run.typed === null));
    const score = fit.pattern + fit.details + Math.log(twin.hypotheses[h].share);
    if (best === null || score > best.score) best = { score, h };
  });
  const chosen = best as { score: number; h: number } | null;
  const fault = chosen === null ? null : twin.hypotheses[chosen.h].fault;
  if (!fault) return [];
  const wide = Math.exp(settings.levelAllowance[twin.closeness]);
  return startUp(twin.board, [fault], setup, twin.workspace).segments.map((s) => ({
    t0: s.t0,
    t1: s.t1,
    low: s.lowA / wide,
    high: s.highA * wide + 0.002,
  }));
}
