import { sayAction } from '../case/index.ts';
import { changeCandidates } from './change-candidates.ts';
import { recoversBeside } from './comparison.ts';
import type { Entry, ObservationKind } from './kind.ts';
import { placeCandidates } from './place-candidates.ts';
import { movedBetweenRuns, movedQuestion, type MovedWord } from './moved.ts';
import { earlierRun } from './run-before.ts';
import { isConfounded } from './transition.ts';
import { isHealthy, isOfHalf, sayLevel } from './observed-run.ts';

const said: Record<MovedWord, string> = {
  recovers: 'it recovers',
  improves: 'the first fault is gone, but it does not work yet',
  falls: 'the reading falls but is not normal',
  rises: 'the reading rises but is not normal',
  same: 'nothing changes',
};

/** What followed a change: a run in the setup of one before it. Every run after a change counts. */
export const changeKind: ObservationKind = {
  id: 'change',
  entries: (history) =>
    history.seen.flatMap((after): Entry[] => {
      if (isOfHalf(after)) return [];
      const before = earlierRun(history, after);
      const epoch = history.epochOf(after.run.after);
      if (!before || epoch === 0 || isHealthy(before)) return [];
      // Held against a run with everything plugged in it tells of what is unplugged, not of the change before it.
      if (recoversBeside(history, after)) return [];
      const word = movedBetweenRuns(before, after);
      const action = history.value.actions[epoch - 1];
      const doubt = isConfounded(action) ? '; a weaker test, because the part or joint may itself be bad' : '';
      return [
        {
          kind: 'change',
          source: `run:${after.run.id}`,
          sentence: `${sayAction(action)}: ${said[word]} (run ${before.run.id} ${sayLevel(before)}, run ${after.run.id} ${sayLevel(after, before)})${doubt}`,
          epoch,
          answer: { question: movedQuestion(history.space, epoch), word, hints: [] },
          likelihood: null,
        },
      ];
    }),
  candidates: (history) => [...changeCandidates(history), ...placeCandidates(history)],
};
