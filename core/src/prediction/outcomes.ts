import type { CheckId } from '../catalogue/index.ts';
import type { Board } from '../twin/index.ts';
import type { DeviceTwin } from './device-twin.ts';
import settings from './fit.json';
import { firstOnLadder, ladderChecks } from './ladder.ts';
import { predictOutcome } from './predict-outcome.ts';
import { Trial } from './trial.ts';

type Told = (string | null | undefined)[];
interface Store {
  trials: (Trial | null)[];
  checks: Map<CheckId, Told>;
}
const known = new WeakMap<Board, Store>();
/** Stores whose start-ups are held, the latest last. A profile's thousands of start-ups take tens of megabytes. */
const warm: Store[] = [];

function storeOf(twin: DeviceTwin): Store {
  let store = known.get(twin.board);
  if (!store) {
    const trials = twin.hypotheses.map((h) =>
      h.fault === null ? null : new Trial(twin.board, [h.fault], twin.workspace),
    );
    store = { trials, checks: new Map() };
    known.set(twin.board, store);
  }
  if (warm.at(-1) !== store) {
    const at = warm.indexOf(store);
    if (at >= 0) warm.splice(at, 1);
    warm.push(store);
    if (warm.length > settings.warmProfiles) warm.shift()?.trials.forEach((trial) => trial?.forget());
  }
  return store;
}

/** The usual start-ups of every hypothesis; null for one that cannot be started. */
export function trialsOf(twin: DeviceTwin): readonly (Trial | null)[] {
  return storeOf(twin).trials;
}

/**
 * The outcome of a check that the twin expects of a hypothesis; null where it cannot tell. Kept for as long as the
 * profile lives.
 */
export function predictedOutcome(twin: DeviceTwin, check: CheckId, h: number): string | null {
  const store = storeOf(twin);
  let told = store.checks.get(check);
  if (!told) {
    told = new Array<string | null | undefined>(twin.hypotheses.length).fill(undefined);
    store.checks.set(check, told);
  }
  const trial = store.trials[h];
  const found = told[h];
  if (found !== undefined) return found;
  if (trial === null) return (told[h] = null);
  const isLadder = ladderChecks.includes(check);
  return (told[h] = isLadder ? firstOnLadder(trial, check, twin.closeness) : predictOutcome(trial, check));
}
