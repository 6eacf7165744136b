import type { CircuitId } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';

/** A place on the board that somebody named, in a circuit. */
export interface NamedPlace {
  key: string;
  circuit: CircuitId;
  /** As it was first called. */
  name: string;
}

/**
 * What a place is called, without what says where on its net the probe stood: everything before the first comma or
 * bracket, in small letters. "Hibernate 5 V, third output" and "hibernate 5 V" are one net.
 *
 * @param where a place as somebody typed it
 * @returns small letters, without what follows the first comma or bracket
 */
export function placeName(where: string): string {
  const [head] = where.split(/[,(;]/, 1);
  return head
    .toLowerCase()
    .replace(/[^\p{L}\p{N}.+-]+/gu, ' ')
    .trim();
}

/**
 * Whether two names mean one place: the same, or one is the other with more said after it.
 *
 * @param a a name as somebody typed it
 * @param b another
 * @example samePlace('PP main', 'pp main, at the coil') // true
 */
export function samePlace(a: string, b: string): boolean {
  const [x, y] = [placeName(a), placeName(b)];
  if (x === '' || y === '') return false;
  return x === y || x.startsWith(`${y} `) || y.startsWith(`${x} `);
}

/** The place of this name in a circuit; null where nobody named it. */
export function placeAt(places: readonly NamedPlace[], circuit: CircuitId | null, where: string): NamedPlace | null {
  return places.find((p) => p.circuit === circuit && samePlace(p.name, where)) ?? null;
}

/** All places that a case names with their circuit: where something was measured to ground or fed. */
export function placesOf(value: Pick<Case, 'readings' | 'injections'>): NamedPlace[] {
  const places: NamedPlace[] = [];
  const add = (circuit: CircuitId | null, where: string): void => {
    if (circuit === null || placeName(where) === '' || placeAt(places, circuit, where)) return;
    places.push({ key: `${circuit}:${placeName(where)}`, circuit, name: where.split(/[,(;]/, 1)[0].trim() });
  };
  for (const reading of value.readings) if (!reading.across) add(reading.circuit, reading.where);
  for (const injection of value.injections) add(injection.circuit, injection.rail);
  return places;
}

const filler = new Set([
  'the',
  'of',
  'a',
  'an',
  'on',
  'at',
  'in',
  'to',
  'from',
  'one',
  'its',
  'with',
  'and',
  'chip',
  'rail',
  'supply',
  'v',
  'part',
]);

/** Words of a name that tell it from others. */
function telling(text: string): string[] {
  return text
    .toLowerCase()
    .split(/[^\p{L}\p{N}.]+/u)
    .filter((word) => word !== '' && !filler.has(word));
}

/**
 * Share of the telling words of the shorter name that the other has too, 0 to 1.
 *
 * @param a a name
 * @param b another
 * @returns 1 where one holds every telling word of the other
 * @example nameOverlap('standby 3.3 V', '3.3 V of the standby side') // 1
 */
export function nameOverlap(a: string, b: string): number {
  const [x, y] = [new Set(telling(a)), new Set(telling(b))];
  if (x.size === 0 || y.size === 0) return 0;
  const shared = [...x].filter((word) => y.has(word)).length;
  return shared / Math.min(x.size, y.size);
}
