import { checkIds, checkTypes, isCheck, namedChecks, type CheckId } from '../catalogue/index.ts';
import { type Check } from '../case/index.ts';
import { clipText } from '../quantity/index.ts';
import { checkApplies } from './check-applies.ts';
import { checkQuestion } from './check-table.ts';
import { plainCandidate, sayCheck } from './check-words.ts';
import type { Candidate, Entry, History, ObservationKind } from './kind.ts';
import { movedQuestion } from './moved.ts';
import { populationOf } from './population.ts';
import type { Hint } from './question.ts';
import { freeingParts, unpluggedQuestion } from './unplugged-runs.ts';
import { recoversWith, showsItWorks } from './works.ts';
import { impliedByRuns } from './implied-by-runs.ts';

/**
 * What a check says of the change that was made just before it: a picture where it failed before is a recovery, as a healthy run
 * is, whatever circuit it was; and one that undoes or swaps something says what its outcome means. Null for any other.
 */
function asChange(history: History, check: Check): string | null {
  if (recoversWith(history, check)) return 'recovers';
  const rule = isCheck(check.id) ? checkTypes[check.id].afterChange : undefined;
  if (!rule || check.after === null || check.outcome === null) return null;
  const action = history.value.actions.find((a) => a.id === check.after);
  return action?.circuit && rule.circuits.includes(action.circuit) ? (rule.outcomes[check.outcome] ?? null) : null;
}

/** Everything that is answered with one of a few words, outside or with the cover off. */
export const checkKind: ObservationKind = {
  id: 'check',
  entries: (history) =>
    history.value.checks.flatMap((check, k): Entry[] => {
      const { id, outcome } = check;
      const common = { kind: 'check', source: `check:${k}`, epoch: history.epochOf(check.after) };
      if (!isCheck(id)) return [{ ...common, leftOut: `the check "${clipText(id)}" is not known` }];
      const { readBy } = checkTypes[id];
      if (readBy === 'ladder') return [{ ...common, leftOut: `${sayCheck(check)}: its readings count instead` }];
      if (readBy !== undefined || check.half !== null) return [];
      if (outcome === null) return [{ ...common, leftOut: `${sayCheck(check)}: no result was entered` }];
      const later = laterLook(history, check, k);
      if (later) return [{ ...common, leftOut: `${sayCheck(check)}: seen later: ${sayCheck(later)}` }];
      const moved = asChange(history, check);
      if (moved !== null) {
        const question = movedQuestion(history.space, common.epoch);
        return [
          { ...common, sentence: sayCheck(check), answer: { question, word: moved, hints: [] }, likelihood: null },
        ];
      }
      // What lives while something is unplugged says of that part what the run beside it says.
      const freeing = showsLife(id, outcome) && check.unplugged.length === 0 ? freeingParts(history, common.epoch) : [];
      if (freeing.length > 0) {
        const asked = unpluggedQuestion(history, freeing);
        return [
          {
            ...common,
            sentence: sayCheck(check),
            answer: { question: asked, word: 'recovers', hints: [] },
            likelihood: null,
          },
        ];
      }
      const question =
        id === namedChecks.peripherals && check.unplugged.length > 0
          ? unpluggedQuestion(history, check.unplugged)
          : checkQuestion(history.space, id, history.value.complaintKind, undefined, populationOf(history));
      if (!question || !Object.hasOwn(question.outcomes, outcome))
        return [{ ...common, leftOut: `${sayCheck(check)}: its likelihoods are not known` }];
      const hints = shownHints(history, id, common.epoch);
      return [{ ...common, sentence: sayCheck(check), answer: { question, word: outcome, hints }, likelihood: null }];
    }),
  candidates: (history) =>
    checkIds.flatMap((id): Candidate[] => {
      if (checkTypes[id].readBy !== undefined || !checkApplies(history, id)) return [];
      const question = checkQuestion(history.space, id, history.value.complaintKind, undefined, populationOf(history));
      if (!question) return [];
      const { name, minutes, depth } = checkTypes[id];
      return [plainCandidate({ id: `check:${id}`, check: id, name, minutes, depth, question })];
    }),
};

/**
 * The later look at the same thing in the same state that takes the place of one that was on the way to it: a logo and then a
 * picture is a picture, a fan that twitched and then spins is one that spins.
 */
function laterLook({ value, epochOf }: History, check: Check, k: number): Check | undefined {
  const type = isCheck(check.id) ? checkTypes[check.id] : undefined;
  if (!type?.shows?.onTheWay?.includes(check.outcome ?? '')) return undefined;
  const isLater = (c: Check): boolean =>
    c.id === check.id && c.half === check.half && c.outcome !== null && c.outcome !== check.outcome;
  return value.checks.slice(k + 1).findLast((c) => isLater(c) && epochOf(c.after) === epochOf(check.after));
}

const showsLife = (id: CheckId, outcome: string): boolean =>
  showsItWorks({ id, outcome, half: null, unplugged: [] }) || (checkTypes[id].alive?.includes(outcome) ?? false);

/** What the runs of this state of the device have shown of the answer already. */
export function shownHints(history: History, check: CheckId, epoch: number): Hint[] {
  const shown = impliedByRuns(history.seen.filter((s) => history.epochOf(s.run.after) === epoch)).get(check);
  return shown ? [{ words: [shown.outcome], certainty: shown.certainty, holds: 'always' }] : [];
}
