import { changeCandidates } from './change-candidates.ts';
import type { ObservationKind } from './kind.ts';
import { placeCandidates } from './place-candidates.ts';

/** Changes that can be made. What followed one is a run, a check or a reading like any other. */
export const changeKind: ObservationKind = {
  id: 'change',
  entries: () => [],
  candidates: (history) => [...changeCandidates(history), ...placeCandidates(history)],
};
