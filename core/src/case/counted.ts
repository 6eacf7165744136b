import { remembered } from '../quantity/index.ts';
import type { Action, Case, PlaceName } from './values.ts';

/** The lists of a case whose entries follow a change. */
type EntryList = 'runs' | 'checks' | 'readings' | 'injections' | 'proofs';

/**
 * A place's name as names are compared: without regard to case, blanks and punctuation.
 *
 * @param where a place as somebody typed it
 * @example placeName('5 V output,  S4') // '5 v output s4'
 */
export const placeName = remembered((where: string): string =>
  where
    .toLowerCase()
    .replace(/[^\p{L}\p{N}.+-]+/gu, ' ')
    .trim(),
);

/** Whether an action was done and counts. */
export const isDone = (action: Pick<Action, 'planned' | 'void'>): boolean =>
  action.planned !== true && action.void === undefined;

/**
 * For each change the last one up to it that counts: what followed a change that does not count follows that one.
 *
 * @param actions ids in the order in which they were made, with whether each was done and counts
 * @returns the change that an entry follows, by the one that it names; null where nothing was done yet
 */
export function lastDone(actions: readonly { id: string; isDone: boolean }[]): (after: string | null) => string | null {
  const upTo = new Map<string, string | null>();
  let last: string | null = null;
  for (const action of actions) {
    if (action.isDone) last = action.id;
    upTo.set(action.id, last);
  }
  return (after) => (after === null ? null : (upTo.get(after) ?? null));
}

/**
 * A case as it counts: without what is void or only planned, with one name for each place, and what was seen in one state of
 * the device in the order of its times. What followed a change that does not count follows the one before it. So a job that was
 * corrected reads like one that was entered right the first time.
 *
 * @param value as it was entered; it is not changed
 */
export function countedCase(value: Case): Case {
  const called = namesOfPlaces(value.places);
  const done = value.actions.filter(isDone);
  const kept = new Set(done.map((a) => a.id));
  const follows = lastDone(value.actions.map((a) => ({ id: a.id, isDone: isDone(a) })));
  const list = <K extends EntryList>(name: K): Case[K] => {
    const entries = value[name] as (Case[K][number] & { at?: string; void?: object; after: string | null })[];
    const counted = entries.filter((e) => e.void === undefined).map((e) => ({ ...e, after: follows(e.after) }));
    return inTime(counted) as Case[K];
  };
  return {
    ...value,
    runs: list('runs'),
    checks: list('checks').map((c) => ({ ...c, where: called(c.where), rail: called(c.rail) })),
    readings: list('readings').map((r) => ({ ...r, where: called(r.where) })),
    injections: list('injections').map((i) => ({
      ...i,
      rail: called(i.rail),
      hot: i.hot === null ? null : called(i.hot),
    })),
    actions: done.map((a) => ({
      ...a,
      target: called(a.target),
      undoes: a.undoes !== null && kept.has(a.undoes) ? a.undoes : null,
    })),
    proofs: list('proofs'),
    places: value.places.map((p) => ({ ...p, where: called(p.where) })),
  };
}

/** The first name of every place that has several, by any of them. */
function namesOfPlaces(places: readonly PlaceName[]): (where: string) => string {
  const first = new Map<string, string>();
  for (const { where, same = [] } of places) {
    const known = [where, ...same].map((name) => first.get(placeName(name))).find((name) => name !== undefined);
    for (const name of [where, ...same]) if (same.length > 0) first.set(placeName(name), known ?? where);
  }
  return (where) => first.get(placeName(where)) ?? where;
}

/** Entries of one state in the order of their times; what has none keeps its place among them. */
function inTime<T extends { at?: string; after: string | null }>(entries: readonly T[]): T[] {
  const out = [...entries];
  const timed = new Map<string | null, number[]>();
  entries.forEach(({ at, after }, k) => {
    if (at !== undefined) timed.set(after, [...(timed.get(after) ?? []), k]);
  });
  for (const places of timed.values()) {
    const sorted = [...places].sort((a, b) => Date.parse(entries[a].at ?? '') - Date.parse(entries[b].at ?? ''));
    sorted.forEach((from, k) => (out[places[k]] = entries[from]));
  }
  return out;
}
