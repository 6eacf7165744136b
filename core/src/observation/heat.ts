import { namedChecks, checkTypes } from '../catalogue/index.ts';
import { plainCandidate, reasonOfCheck } from './check-words.ts';
import { anywhereQuestion, cameraQuestion, ownHeat, unknownSpotQuestion } from './heat-question.ts';
import type { Entry, ObservationKind } from './kind.ts';

/** Heat that was seen with a camera, alcohol or a finger, with the device fed in the usual way. */
export const heatKind: ObservationKind = {
  id: 'heat',
  entries: (history) =>
    history.value.checks.flatMap((check, k): Entry[] => {
      if (check.id !== namedChecks.heat && check.id !== namedChecks.inject) return [];
      const common = { kind: 'heat', source: `check:${k}`, epoch: history.epochOf(check.after) };
      const { space } = history;
      const reason = reasonOfCheck(check, check.circuit ? [check.circuit] : []);
      if (check.outcome === null) return [{ ...common, reason, why: { id: 'no-result', values: {} } }];
      const predicted = ownHeat(space, check);
      const question =
        predicted?.question ??
        (check.circuit !== null && check.outcome !== 'leads-only'
          ? cameraQuestion(space, check.circuit, check.where)
          : (unknownSpotQuestion(space, check.where) ?? anywhereQuestion(space)));
      const word = predicted?.word ?? check.outcome;
      if (!question || !Object.hasOwn(question.outcomes, word))
        return [{ ...common, reason, why: { id: 'by-injections', values: {} } }];
      return [{ ...common, reason, answer: { question, word }, likelihood: null }];
    }),
  candidates: (history) => {
    const question = anywhereQuestion(history.space);
    if (!question) return [];
    const { name, minutes, depth } = checkTypes[namedChecks.heat];
    return [plainCandidate({ id: 'check:heat-view', check: namedChecks.heat, name, minutes, depth, question })];
  },
};
