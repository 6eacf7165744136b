import { feedVolts } from '../catalogue/index.ts';
import type { CircuitId } from '../catalogue/index.ts';
import type { Space } from '../prediction/index.ts';
import { moves, type MovedWord } from '../reasons/index.ts';
import rules from './changes.json';
import type { Question } from './question.ts';
import { isHealthy, isUnasked, readsTheSame, standingLevel, type SeenRun } from './observed-run.ts';

/** Contacts change by themselves. */
export const isContact = (circuit: CircuitId): boolean => rules.contacts.includes(circuit);

/**
 * What a change is expected to do to the reading, by what became of the fault.
 *
 * @param epoch how many changes were made before
 * @param isTurned the plug was turned over: what lies on one side of it is another contact now
 */
export function movedQuestion(space: Space, epoch: number, isTurned = false): Question {
  const { moved } = rules;
  const turned = (circuit: CircuitId): number =>
    isTurned ? ((rules.turned.of as Partial<Record<CircuitId, number>>)[circuit] ?? 0) : 0;
  const flat = (p: number): number[] => space.hypotheses.map(() => p);
  return {
    key: `moved:${epoch}`,
    repeats: rules.repeats,
    outcomes: Object.fromEntries(
      moves.map((word) => [
        word,
        space.hypotheses.map(({ circuit }) => {
          const usual = (isContact(circuit) ? moved.contact : moved.same)[word];
          return turned(circuit) * rules.turned.row[word] + (1 - turned(circuit)) * usual;
        }),
      ]),
    ),
    byState: Object.fromEntries(
      moves.map((word) => [
        word,
        Object.fromEntries(
          (['altered', 'lacking', 'works', 'other'] as const).map((state) => [state, flat(moved[state][word])]),
        ),
      ]),
    ),
  };
}

/** How the reading moved between two runs of one setup. */
export function movedBetweenRuns(before: SeenRun, after: SeenRun): MovedWord {
  if (isHealthy(after)) return 'recovers';
  if (readsTheSame(before, after)) return 'same';
  if (improves(before, after)) return 'improves';
  const [x, y] = [
    standingLevel(before, isUnasked(before)).watts ?? 0,
    standingLevel(after, isUnasked(before)).watts ?? 0,
  ];
  return y < x ? 'falls' : 'rises';
}

/** Not well yet, but what was wrong at first is gone: the contract is made, nothing is drawn unasked any more. */
function improves(before: SeenRun, after: SeenRun): boolean {
  const [x, y] = [before.shape.features.voltage.highest ?? 0, after.shape.features.voltage.highest ?? 0];
  if (after.run.feed === 'usb-c' && x < feedVolts.raisedFrom && y > feedVolts.raisedFrom) return true;
  return isUnasked(before) && !isUnasked(after) && after.shape.features.prompted;
}
