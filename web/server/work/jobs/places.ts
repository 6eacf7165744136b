import { likelySamePlace, placeName } from '@umbral/core';
import type { JobContent } from '../../record/rows.ts';

/** Names of the places of a job, as they were typed first, the newest last. */
export function placesIn({ readings, injections, checks, actions }: JobContent): string[] {
  const names = [
    ...readings.map((r) => r.where),
    ...injections.flatMap((i) => [i.rail, i.hot ?? '']),
    ...checks.map((c) => c.where),
    ...actions.map((a) => a.target),
  ];
  const first = new Map<string, string>();
  for (const name of names) if (placeName(name) !== '' && !first.has(placeName(name))) first.set(placeName(name), name);
  return [...first.values()];
}

/**
 * The place of a job that a new name may mean: it is called much like it, and nobody said that the two are one or two.
 *
 * @returns null where the name is one of the job's, or like none of them
 */
export function mayBePlace(content: JobContent, where: string): string | null {
  const known = placesIn(content);
  if (placeName(where) === '' || known.some((name) => placeName(name) === placeName(where))) return null;
  return known.findLast((name) => likelySamePlace(name, where)) ?? null;
}
