import { earlierRun, sameSetup, type Case, type SeenRun } from '@umbral/core';

/**
 * The two runs that are worth holding against each other: like with like. A run since the newest change against the last
 * one of the same setup before it; without a change, against the last one of the same setup; only where there is none of
 * them, against whatever came before.
 *
 * @param of key of the run that is looked at; the newest where null
 * @returns keys, the earlier first; fewer than two where there are not two runs
 */
export function pairToCompare(value: Pick<Case, 'actions'>, seen: readonly SeenRun[], of: string | null): string[] {
  const epochOf = (after: string | null): number => value.actions.findIndex((a) => a.id === after) + 1;
  const wanted = seen.find((s) => s.run.id === of) ?? newestOf(seen, epochOf, value.actions.length);
  if (!wanted) return [];
  const place = seen.indexOf(wanted);
  const history = { seen, epochOf, value: value as Case };
  const before =
    (epochOf(wanted.run.after) > 0 ? earlierRun(history, wanted) : null) ??
    seen.slice(0, place).findLast((s) => sameSetup(s.run, wanted.run)) ??
    seen[place - 1];
  // The first run has nothing before it: it is what the next of its setup is held against.
  if (!before) {
    const later = seen.slice(1).find((s) => sameSetup(s.run, wanted.run)) ?? seen[1];
    return later ? [wanted.run.id, later.run.id] : [wanted.run.id];
  }
  return [before.run.id, wanted.run.id];
}

/** The newest run that has one of its own setup before it, before the last change where there is one; else the newest. */
function newestOf(
  seen: readonly SeenRun[],
  epochOf: (after: string | null) => number,
  now: number,
): SeenRun | undefined {
  if (now === 0) return seen.findLast((s, k) => seen.slice(0, k).some((x) => sameSetup(x.run, s.run))) ?? seen.at(-1);
  const since = seen.filter((s) => epochOf(s.run.after) === now);
  const alike = since.findLast((s) =>
    seen.some((x) => epochOf(x.run.after) < now && x.run.setup.unplugged.length === 0 && sameSetup(x.run, s.run)),
  );
  return alike ?? seen.at(-1);
}
