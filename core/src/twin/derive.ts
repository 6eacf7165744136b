import { ProfileProblem } from './board.ts';
import type { Profile } from './profile.ts';

/** Lists of a profile whose elements have ids. */
const lists = ['rails', 'converters', 'loads', 'parts', 'peripherals', 'ports', 'stages'] as const;
type ListName = (typeof lists)[number];
type Element = { id: string };

/**
 * A profile as what differs from another. An element of a list that the other has too names the fields that differ; one of
 * its own is whole, and says after which it comes. Any other field stands in the place of the other's.
 */
export type DerivedProfile = { base: string; id: string; without?: string[] } & Partial<Omit<Profile, ListName>> & {
    [K in ListName]?: readonly (Element & { after?: string | null } & Record<string, unknown>)[];
  };

/**
 * The profile that is written as what differs from another.
 *
 * @throws {ProfileProblem} where it takes away, or comes after, an element that is not there
 */
export function deriveProfile(base: Profile, { base: _, without = [], ...own }: DerivedProfile): Profile {
  const gone = new Set(without);
  const made = { ...base, ...own } as Profile;
  for (const name of lists) {
    const list: Element[] = base[name].filter((x) => !gone.delete(x.id));
    for (const { after, ...element } of own[name] ?? []) {
      const at = list.findIndex((x) => x.id === element.id);
      if (at >= 0) list[at] = { ...list[at], ...element };
      else list.splice(placeAfter(list, element.id, after), 0, element);
    }
    Object.assign(made, { [name]: list });
  }
  const [missing] = gone;
  if (missing !== undefined)
    throw new ProfileProblem(missing, `is removed by ${own.id}, but ${base.id} has no such element`);
  return made;
}

function placeAfter(list: readonly Element[], id: string, after: string | null | undefined): number {
  if (after === null) return 0;
  const at = list.findIndex((x) => x.id === after);
  if (at < 0) throw new ProfileProblem(id, `comes after ${after ?? 'nothing that it names'}, which is not there`);
  return at + 1;
}
