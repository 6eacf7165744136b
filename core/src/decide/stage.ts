import { type CircuitId, actionTypes } from '../catalogue/index.ts';
import {
  earlierRun,
  isHealthy,
  movedBetweenRuns,
  shortsOf,
  type History,
  type MeasuredShort,
} from '../observation/index.ts';

/** Where the work stands, as far as it decides what may be proposed. */
export interface Stage {
  /** Shorts that were measured and are still there. */
  shorts: MeasuredShort[];
  /** Circuits that were worked on with nothing moved since. */
  unmoved: ReadonlySet<CircuitId>;
  /** Changes in a row that moved nothing. */
  inVain: number;
}

/** Where the work stands: outside, at the opened device, or at a located short. */
export function stageOf(history: History): Stage {
  const all = shortsOf(history);
  const shorts = all.filter((s) => !s.isGone);
  const { value } = history;
  const unmoved = new Set<CircuitId>();
  let inVain = 0;
  for (const [k, action] of value.actions.entries()) {
    const after = history.seen.filter((s) => history.epochOf(s.run.after) === k + 1);
    const words = after.flatMap((run) => {
      const before = earlierRun(history, run);
      return before && !isHealthy(before) ? [movedBetweenRuns(before, run)] : [];
    });
    const still = value.readings.some(
      (r) => r.after === action.id && all.some((s) => s.epoch === k + 1 && s.circuit === r.circuit && !s.isGone),
    );
    const isVain = (words.length > 0 && words.every((w) => w === 'same')) || (words.length === 0 && still);
    if (isVain && action.circuit && action.undoes === null) unmoved.add(action.circuit);
    if (isVain && actionTypes[action.kind].isRepair) inVain++;
    else if (words.some((w) => w !== 'same')) inVain = 0;
  }
  return {
    shorts,
    unmoved,
    inVain,
  };
}
