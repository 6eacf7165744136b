import { circuitNames, type CircuitId } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import {
  byCircuits,
  isolationOf,
  planNext,
  rankTests,
  toSuggestion,
  type Grouping,
  type ShopPolicy,
  type Suggestion,
} from '../decide/index.ts';
import { believe, type AssessOptions, type Belief } from '../diagnosis/index.ts';
import { sumBy } from '../inference/index.ts';
import { elementsOf } from '../prediction/index.ts';
import type { Shape } from '../shape/index.ts';
import type { Fault } from '../twin/index.ts';
import { ladderOf, type Ladder } from './board-ladder.ts';
import policy from './measuring.json';

/** A suspected element: of the profile, or a circuit at a place that somebody named. */
interface BoardElement {
  id: string;
  name: string;
  circuit: CircuitId;
  p: number;
  /** Its likeliest fault; null where nothing of it can be started. */
  fault: Fault | null;
}

/** Everything that is planned at the opened device: what is suspected, what is known of the rails, what to do next. */
export interface BoardPlan extends Ladder {
  closeness: 'own' | 'generic';
  profile: string;
  elements: BoardElement[];
  isDecided: boolean;
  next: Suggestion[];
  /** The best of them that are done with a probe. */
  probes: Suggestion[];
}

/** What the question is about at the opened device: elements of the profile, or circuits at the places that were named. */
export function byElements({ history }: Pick<Belief, 'history'>): Grouping {
  const { space } = history;
  if (space.closeness !== 'own') {
    // A place on a net that nobody knows is one thing to work on, whichever circuit it belongs to.
    const unknown = new Set(space.places.flatMap((p) => (p.circuit === null ? [p.key] : [])));
    const keys: string[] = [];
    const groups: Grouping['groups'][number][] = [];
    const of = space.hypotheses.map((h) => {
      const key = h.place ?? h.circuit;
      const known = keys.indexOf(key);
      if (known >= 0) return known;
      groups.push({
        id: key,
        name: !h.target
          ? circuitNames[h.circuit]
          : unknown.has(key)
            ? h.target
            : `${circuitNames[h.circuit]}: ${h.target}`,
        circuit: h.circuit,
      });
      return keys.push(key) - 1;
    });
    return { of, groups, isElements: true };
  }
  const { list, of } = elementsOf(space.twin);
  return { of, groups: list, isElements: true };
}

/**
 * Plans the work at the opened device, from the same belief and by the same ranking as everything else.
 *
 * @param shapes by run id
 */
export function planBoard(
  given: Case,
  shapes: ReadonlyMap<string, Shape>,
  options: AssessOptions & { shop?: ShopPolicy } = {},
): BoardPlan {
  const belief = believe(given, shapes, options);
  const { space } = belief.history;
  const grouping = byElements(belief);
  const { next } = planNext(belief, options.shop, space.closeness === 'own' ? grouping : byCircuits(belief));
  const ranked = rankTests(belief, grouping).filter((r) => r.candidate.kind === 'reading');
  return {
    closeness: space.closeness,
    profile: space.closeness === 'own' ? space.twin.board.profile.name : '',
    elements: leadersOf(belief, grouping),
    isDecided: isolationOf(belief, grouping).isDecided,
    ...ladderOf(belief),
    next: next.slice(0, policy.maxTests),
    probes: ranked.slice(0, policy.maxTests).map((r) => toSuggestion(belief, grouping, r)),
  };
}

function leadersOf({ posterior, history }: Belief, grouping: Grouping): BoardElement[] {
  const p = sumBy(posterior, grouping.of, grouping.groups.length);
  return [...p.keys()]
    .sort((a, b) => p[b] - p[a])
    .slice(0, policy.maxTests)
    .map((g) => {
      const best = grouping.of.reduce(
        (top, e, h) => (e === g && (top < 0 || posterior[h] > posterior[top]) ? h : top),
        -1,
      );
      const { id, name, circuit } = grouping.groups[g];
      const likeliest = history.space.hypotheses[best];
      return { id, name, circuit: likeliest?.circuit ?? circuit, p: p[g], fault: likeliest?.fault ?? null };
    });
}
