import type { ActionKind, CheckId, CircuitId } from '../catalogue/index.ts';
import type { ReadingMode } from '../case/index.ts';

/** What a suspect predicts for a test: the likeliest outcome, and the likeliest two with their probabilities. */
export interface Prediction {
  circuit: CircuitId;
  /** The element that predicts it, where the question is which element it is. */
  element: { id: string; name: string } | null;
  outcome: string;
  likely: { outcome: string; p: number }[];
}

/** What to do next, and what each leading suspect predicts for it. */
export interface Suggestion {
  kind: 'check' | 'reading' | 'injection' | 'action' | 'verify' | 'stop';
  check: CheckId | null;
  action: { kind: ActionKind; circuit: CircuitId | null; target: string } | null;
  /** Where it is measured or fed; null for anything else. */
  where: string | null;
  mode: ReadingMode | null;
  /** What is to be proved next; null for anything but `verify`. */
  protocol: string | null;
  circuit: CircuitId | null;
  /** Ids of the profile that it touches; empty for a model without one. */
  at: string[];
  /** Voltages: when they are measured; null elsewhere. */
  phase: 'before' | 'after' | 'plugged' | null;
  /** Expected information about the decision, bits. */
  bits: number;
  minutes: number;
  depth: number;
  /** What can go wrong in doing it, in a few words. */
  risk: string;
  name: string;
  why: string;
  predicts: Prediction[];
  /** Names of the elements that can warm, by the outcome that stands for them; left out where there are none. */
  hot?: Record<string, string>;
}
