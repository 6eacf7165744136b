import type { Action } from '../case/index.ts';
import type { CircuitId } from '../catalogue/index.ts';
import type { PerHypothesis } from '../inference/index.ts';
import type { History, Question } from '../observation/index.ts';

/** Everything that is believed when the next test is chosen. */
export interface Standing {
  history: History;
  /** By hypothesis; sums to 1. */
  posterior: PerHypothesis;
  /** Everything that was weighed, in order. */
  weighed: readonly { kind: string; source: string; before: PerHypothesis; increments: PerHypothesis }[];
  now: { works: number; 'same-fault': number; 'other-fault': number };
  /** Probability of every outcome of a question asked now: the number that entering that outcome adds. */
  ask: (question: Question) => Record<string, PerHypothesis>;
  /** The same after one more change. */
  askAfter: (question: Question, action: Action) => Record<string, PerHypothesis>;
}

/** What the decision is about: the circuit, or the element at the opened device. */
export interface Grouping {
  /** Group of every hypothesis. */
  of: PerHypothesis;
  /** Id, name and circuit of every group. */
  groups: readonly { id: string; name: string; circuit: CircuitId }[];
  /** True where the question is which element it is: then it is settled only by something found at the element. */
  isElements: boolean;
}
