import type { ActionKind, CircuitId } from '../catalogue/index.ts';
import { plainAction, type Action } from '../case/index.ts';
import { byCircuits, type Grouping } from '../decide/index.ts';
import type { Belief } from '../diagnosis/index.ts';
import { sumBy } from '../inference/index.ts';
import { movedQuestion } from '../observation/index.ts';
import { moves, type MovedWord } from '../reasons/index.ts';
import { byElements } from './board-plan.ts';
import policy from './measuring.json';

/** What a suspect expects of the next run, if the change is made. */
export interface ChangePrediction {
  element: { id: string; name: string; circuit: string };
  /** How likely the suspect is before the change. */
  p: number;
  moved: MovedWord;
  /** How sure the suspect is of it. */
  certainty: number;
}

/** A change that somebody is about to make. */
export interface PlannedChange {
  kind: ActionKind;
  circuit: CircuitId | null;
  target: string;
  undoes?: string | null;
}

/**
 * What each leading suspect predicts for the run after a change, said before it is made, so that the run can contradict. By
 * the same numbers that the run will be weighed with, for any model. Nothing is predicted for a change that names nothing.
 */
export function predictChange(belief: Belief, change: PlannedChange): ChangePrediction[] {
  if (change.circuit === null && change.target.trim() === '') return [];
  const { history, posterior } = belief;
  const action: Action = { ...plainAction, id: '', ...change };
  const outcomes = belief.askAfter(movedQuestion(history.space, history.value.actions.length + 1), action);
  const grouping: Grouping = history.space.closeness === 'own' ? byElements(belief) : byCircuits(belief);
  const p = sumBy(posterior, grouping.of, grouping.groups.length);
  const leaders = [...p.keys()].sort((a, b) => p[b] - p[a]).slice(0, policy.maxSuspects);
  return leaders.map((g): ChangePrediction => {
    const shares = moves.map((word) => ({
      word,
      share:
        outcomes[word].reduce((sum, x, h) => sum + (grouping.of[h] === g ? x * posterior[h] : 0), 0) /
        Math.max(p[g], 1e-12),
    }));
    const best = shares.reduce((a, b) => (b.share > a.share ? b : a));
    return { element: { ...grouping.groups[g] }, p: p[g], moved: best.word, certainty: best.share };
  });
}
