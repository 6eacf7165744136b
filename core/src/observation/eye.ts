import { namedChecks, checkTypes, type CircuitId } from '../catalogue/index.ts';
import { placeAt, suggestedCircuits, type Hypothesis } from '../hypotheses/index.ts';
import { atSight, elementNamed } from '../twin/index.ts';
import { plainCandidate, reasonOfCheck } from './check-words.ts';
import { checkQuestion } from './check-table.ts';
import table from './eye.json';
import type { Candidate, Entry, History, ObservationKind } from './kind.ts';
import type { Question } from './question.ts';

type Place = Pick<History['value']['checks'][number], 'where' | 'circuit' | 'note'>;

/**
 * How likely a fault of each circuit sits at the place that was looked at, 0 to 1: as it was said, or as the words of the place and
 * of the note have it. Empty where nothing names a circuit.
 */
function circuitsAt({ circuit, where, note }: Place, ofElement: CircuitId | undefined): Map<CircuitId, number> {
  const said = circuit ?? ofElement;
  if (said) return new Map([[said, 1]]);
  const words = where === '' ? note : where;
  const factors = suggestedCircuits(words);
  const most = Math.max(...factors.values());
  return new Map([...factors].map(([id, x]) => [id, (x / most) * (most > table.namedFrom ? 1 : table.nearIsThere)]));
}

/**
 * What the eye finds at one place: damage there is two to five times likelier where the fault sits, a clean look proves
 * nearly nothing. Without a place, what is met on boards with each fault.
 */
function eyeQuestion({ space }: Pick<History, 'space'>, place: Place): Question | null {
  const element = space.closeness === 'own' ? elementNamed(space.twin.board.profile, place.where, atSight) : null;
  const circuits = circuitsAt(place, element?.circuit);
  const unknown = place.where === '' ? null : placeAt(space.places, null, place.where);
  if (circuits.size === 0 && !unknown) return checkQuestion(space, namedChecks.look);
  const named = placeAt(space.places, place.circuit, place.where);
  const thereOf = (h: Hypothesis): number => {
    if (element && h.fault?.at === element.id) return 1;
    if (unknown && h.place === unknown.key) return 1;
    const there = circuits.get(h.circuit) ?? 0;
    return !named || named === unknown || h.place === named.key ? there : 0;
  };
  const isThere = space.hypotheses.map(thereOf);
  const words = Object.keys(table.anywhere) as (keyof typeof table.anywhere)[];
  const normal = (of: Record<string, number>): number => words.reduce((sum, w) => sum + of[w], 0);
  const [at, not] = [normal(table.atTheFault), normal(table.anywhere)];
  return {
    key: `eye:${[...circuits.keys()].join('+')}:${place.where.toLowerCase()}`,
    repeats: table.repeats,
    lacking: 'same',
    outcomes: Object.fromEntries(
      words.map((w) => [
        w,
        isThere.map((there) => (there * table.atTheFault[w]) / at + ((1 - there) * table.anywhere[w]) / not),
      ]),
    ),
  };
}

/** What was seen under the microscope, and where. */
export const eyeKind: ObservationKind = {
  id: 'eye',
  entries: (history) =>
    history.value.checks.flatMap((check, k): Entry[] => {
      if (check.id !== namedChecks.look) return [];
      const common = { kind: 'eye', source: `check:${k}`, epoch: history.epochOf(check.after) };
      const question = eyeQuestion(history, check);
      const reason = reasonOfCheck(check, [...circuitsAt(check, undefined).keys()]);
      if (!question || check.outcome === null) return [{ ...common, reason, why: { id: 'no-result', values: {} } }];
      return [
        {
          ...common,
          reason,
          answer: { question, word: check.outcome },
          likelihood: null,
        },
      ];
    }),
  candidates: (history) => {
    const question = checkQuestion(history.space, namedChecks.look);
    if (!question || history.value.checks.some((c) => c.id === namedChecks.look && c.outcome !== null)) return [];
    const { name, minutes, depth } = checkTypes.visual;
    return [
      plainCandidate({
        id: 'check:visual',
        check: namedChecks.look,
        name,
        minutes,
        depth,
        question,
      }) satisfies Candidate,
    ];
  },
};
