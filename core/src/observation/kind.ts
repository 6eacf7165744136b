import { circuitNames, type CheckId, type CircuitId } from '../catalogue/index.ts';
import type { Case, ReadingMode } from '../case/index.ts';
import { inSentence } from '../quantity/index.ts';
import type { StateTable } from '../inference/index.ts';
import type { ClassFigures } from '../prediction/index.ts';
import type { Space } from '../prediction/index.ts';
import type { Reason, WhyLeftOut } from '../reasons/index.ts';
import type { Assemblies, Assembly } from './assembly.ts';
import type { SeenRun } from './observed-run.ts';
import type { Over, Question } from './question.ts';

/** A case as the kinds of observation take it. */
export interface History {
  value: Case;
  space: Space;
  over: Over;
  seen: readonly SeenRun[];
  figures: ClassFigures;
  /** Hypotheses that still matter, for questions that cost start-ups; all of them until something was weighed. */
  plausible: (hypothesis: number) => boolean;
  /** What was moved, and how each observation was put together. */
  assemblies: Assemblies;
  /** Which state of the device something belongs to: 0 before any change, then the number of the change. */
  epochOf: (after: string | null) => number;
}

/** Something that was seen, ready to be weighed. */
export interface Observed {
  kind: string;
  /** What it came from; stands in the explanation. */
  source: string;
  reason: Reason;
  epoch: number;
  /** What was asked and answered. Null for a run, which has a likelihood of its own. */
  answer: { question: Question; word: string } | null;
  /** Likelihood for every state and hypothesis, up to a constant, by the place of the fault. Null where an answer is given. */
  likelihood: readonly StateTable[] | null;
  /** How the device was put together when it was seen; as its state has it where left out. */
  assembly?: Assembly;
}

/** Something that was entered and does not count, with the reason. */
export interface LeftOut {
  kind: string;
  source: string;
  epoch: number;
  reason: Reason;
  why: WhyLeftOut;
}

export type Entry = Observed | LeftOut;

export const isLeftOut = (entry: Entry): entry is LeftOut => 'why' in entry;

declare const isNamed: unique symbol;

/** What a step is done to, in words that are never empty: a step without an object cannot be made. */
type StepObject = string & { readonly [isNamed]: true };

/**
 * What a step is done to: the part that was named, else the circuit.
 *
 * @param target as somebody named it; may be empty
 * @returns null where nobody knows either
 */
export function stepObject(target: string | null, circuit: CircuitId | null): StepObject | null {
  const name = target?.trim() || (circuit === null ? '' : inSentence(circuitNames[circuit]));
  return name === '' ? null : (name as StepObject);
}

/** A change that can be made. */
export interface StepAction {
  kind: Case['actions'][number]['kind'];
  circuit: CircuitId | null;
  /** As the change would name its part; may be empty where only its circuit is known. */
  target: string;
  object: StepObject;
}

/** A test that can be made, as a question with what it costs. */
export interface Candidate {
  id: string;
  kind: 'check' | 'reading' | 'injection' | 'action';
  check: CheckId | null;
  action: StepAction | null;
  /** Where it is measured or fed, in words. */
  where: string | null;
  mode: ReadingMode | null;
  circuit: CircuitId | null;
  minutes: number;
  depth: number;
  question: Question;
  name: string;
  /** Ids of the profile that it touches; empty for a model without one. */
  at?: readonly string[];
  phase?: 'before' | 'after' | 'plugged' | null;
}

/** A kind of observation: what a case holds of it, and what of it can still be asked. Registered once. */
export interface ObservationKind {
  id: string;
  /** Everything of this kind that was entered; nothing is swallowed: what does not count says why. */
  entries: (history: History) => Entry[];
  /** Tests of this kind that are still open. */
  candidates: (history: History) => Candidate[];
}
