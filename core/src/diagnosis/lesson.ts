import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';
import { signatureOf, trustsTried, type Signature } from '../library/index.ts';
import { normalise, normaliseLogs, sumBy, type PerHypothesis } from '../inference/index.ts';
import {
  isHealthy,
  isLeftOut,
  observationKinds,
  patternQuestion,
  usualTrust,
  type History,
} from '../observation/index.ts';
import { topPattern, type Shape } from '../shape/index.ts';
import { believe, historyOf, type AssessOptions, type Belief } from './belief.ts';
import { outsideOnly } from './outside.ts';

/** What a confirmed case teaches, beside what it was. */
export interface Lesson {
  /** Of every run that was made before any change. */
  signatures: Signature[];
  /** What was answered before any change, by the key of the question. */
  answers: Record<string, string>;
  /** How it would have been called from outside under each of `trustsTried`: natural log of what its circuit got. */
  scores: number[];
  /** What the table of patterns alone would have given its circuit, as a natural log; null without a run. */
  patternAlone: number | null;
}

/** Under every probability that is not nothing, above what underflows. */
const smallest = 1e-300;
const populationsTried = [...new Set(trustsTried.map((t) => t.population))];

/** Under every probability that is scored. */
const leastScored = 1e-4;

/**
 * Works out what a case teaches. Asks the engine once for every share of the population that is tried; how sharp its
 * likelihoods are taken is worked out from their weights.
 *
 * @param value the whole case; what it says of its outcome is not looked at
 * @param shapes by run id
 * @param circuit that was confirmed
 * @param options profiles of the shop; nothing that was learned before is used
 */
export function lessonOf(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  circuit: CircuitId,
  options: Pick<AssessOptions, 'profiles'> = {},
): Lesson {
  const { history, base } = historyOf(value, shapes, options);
  const answers: Record<string, string> = {};
  for (const entry of observationKinds.flatMap((kind) => kind.entries(history)))
    if (!isLeftOut(entry) && entry.epoch === 0 && entry.answer)
      answers[entry.answer.question.key] ??= entry.answer.word;
  return {
    signatures: value.runs.flatMap((run) => {
      const shape = shapes.get(run.id);
      return shape && run.after === null ? [signatureOf(run, shape)] : [];
    }),
    answers,
    scores: scoresOf(outsideOnly(value), shapes, circuit, options),
    patternAlone: patternAlone(history, base, circuit),
  };
}

/** What a list of patterns with their causes says, without anything else: the plainest baseline there is. */
function patternAlone(history: History, base: PerHypothesis, circuit: CircuitId): number | null {
  const before = history.seen.filter((s) => history.epochOf(s.run.after) === 0);
  const seen = before.find((s) => !isHealthy(s)) ?? before[0];
  if (!seen) return null;
  const shown = patternQuestion(history, seen).outcomes[topPattern(seen.patterns)];
  const p = sumBy(normalise(base.map((x, h) => x * shown[h])), history.space.circuitOf, circuitIds.length);
  return Math.log(Math.max(p[circuitIds.indexOf(circuit)], leastScored));
}

function scoresOf(
  outside: Case,
  shapes: ReadonlyMap<string, Shape>,
  circuit: CircuitId,
  { profiles }: Pick<AssessOptions, 'profiles'>,
): number[] {
  if (outside.runs.length === 0 && outside.checks.length === 0) return [];
  const index = circuitIds.indexOf(circuit);
  const beliefs = new Map<number | null, Belief>();
  const under = (population: number | null): Belief => {
    const known = beliefs.get(population);
    if (known) return known;
    const belief = believe(outside, shapes, {
      profiles,
      learned: { repeats: [], trust: { ...usualTrust, population } },
    });
    // A model with a profile of its own is not asked of a population.
    for (const one of belief.history.space.closeness === 'own' ? populationsTried : [population])
      beliefs.set(one, belief);
    return belief;
  };
  return trustsTried.map(({ population, sharpness }) => {
    const belief = under(population);
    const logs = belief.weighed.reduce(
      (sum, { kind, increments }) => sum.map((x, h) => x + (kind === 'intake' ? 1 : sharpness) * increments[h]),
      belief.weighed.length > 0 ? belief.weighed[0].before.map((p) => Math.log(Math.max(p, smallest))) : [],
    );
    const p = sumBy(normaliseLogs(logs), belief.history.space.circuitOf, circuitIds.length);
    return Math.log(Math.max(p[index], leastScored));
  });
}
