import type { ActionKind } from '../case/index.ts';
import { movedLikelihoods, type Believed, type Moved } from '../diagnosis/index.ts';
import { elementNamed } from '../twin/index.ts';
import policy from './data/measuring.json';
import { byElement, elementsOf, type Element } from './elements.ts';

/** What a suspect expects of the next run, if the change is made. */
export interface ChangePrediction {
  element: Element;
  /** How likely the suspect is before the change. */
  p: number;
  moved: Moved;
  /** How sure the suspect is of it. */
  certainty: number;
}

/**
 * What each leading suspect predicts for the run after a change: said before it is made, so that the run can contradict.
 *
 * @param target what is worked on, by id or name; nothing is predicted where the profile has no such element
 */
export function predictChange(
  { twin, posterior }: Pick<Believed, 'twin' | 'posterior'>,
  kind: ActionKind,
  target: string,
): ChangePrediction[] {
  const worked = elementNamed(twin.board.profile, target);
  if (!worked || twin.closeness !== 'own') return [];
  const elements = elementsOf(twin);
  const p = byElement(elements, posterior);
  const leaders = [...p.keys()].sort((a, b) => p[b] - p[a]).slice(0, policy.mostSuspects);
  const asked = new Set(leaders);
  const told = movedLikelihoods(twin, kind, worked.id, (h) => asked.has(elements.of[h]) && posterior[h] > 0);
  return leaders.map((k): ChangePrediction => {
    const sums: Record<Moved, number> = { recovers: 0, falls: 0, rises: 0, same: 0 };
    told.forEach((t, h) => {
      if (elements.of[h] !== k || !t) return;
      for (const moved of Object.keys(sums) as Moved[])
        sums[moved] += (posterior[h] / Math.max(p[k], 1e-12)) * t[moved];
    });
    const [moved, certainty] = (Object.entries(sums) as [Moved, number][]).reduce((a, b) => (b[1] > a[1] ? b : a));
    return { element: elements.list[k], p: p[k], moved, certainty };
  });
}
