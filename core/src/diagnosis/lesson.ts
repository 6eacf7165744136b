import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';
import { signatureOf, type Signature } from '../library/index.ts';
import { normaliseWeights, sumBy, type PerHypothesis } from '../inference/index.ts';
import { isHealthy, patternQuestion, type History } from '../observation/index.ts';
import { topPattern, type Shape } from '../shape/index.ts';
import { historyOf, type AssessOptions } from './history.ts';

/** What a confirmed case teaches, beside what it was. */
export interface Lesson {
  /** Of every run that was made before any change. */
  signatures: Signature[];
  /** What the table of patterns alone would have given its circuit, as a natural log; null without a run. */
  patternAlone: number | null;
}

/** Under every probability that is scored. */
const minScored = 1e-4;

/**
 * Works out what a case teaches.
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
  return {
    signatures: value.runs.flatMap((run) => {
      const shape = shapes.get(run.id);
      return shape && run.after === null ? [signatureOf(run, shape)] : [];
    }),
    patternAlone: patternAlone(history, base, circuit),
  };
}

/** What a list of patterns with their causes says, without anything else: the plainest baseline there is. */
function patternAlone(history: History, base: PerHypothesis, circuit: CircuitId): number | null {
  const before = history.seen.filter((s) => history.epochOf(s.run.after) === 0);
  const seen = before.find((s) => !isHealthy(s)) ?? before[0];
  if (!seen) return null;
  const shown = patternQuestion(history, seen).outcomes[topPattern(seen.patterns)];
  const p = sumBy(normaliseWeights(base.map((x, h) => x * shown[h])), history.space.circuitOf, circuitIds.length);
  return Math.log(Math.max(p[circuitIds.indexOf(circuit)], minScored));
}
