import type { CircuitId } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';
import circuits from './circuits.json';
import { suggestedCircuits } from './vocabulary.ts';

/** A place on the board where something was measured, fed, found or changed. */
export interface NamedPlace {
  key: string;
  /** Null while nobody knows which circuit it belongs to. */
  circuit: CircuitId | null;
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

/** The place of this name in a circuit, or without one; null where nobody named it. */
export function placeAt(places: readonly NamedPlace[], circuit: CircuitId | null, where: string): NamedPlace | null {
  const among = places.filter((p) => p.circuit === circuit);
  return (
    among.find((p) => samePlace(p.name, where)) ??
    (circuit === null ? among.find((p) => likelySamePlace(p.name, where)) : undefined) ??
    null
  );
}

type Named = Pick<Case, 'readings' | 'injections' | 'actions' | 'checks'>;

/**
 * All places of a case: where something was measured to ground or fed, and, while it has no circuit, what was found damaged,
 * what warmed and what was worked on. One that nobody knows the circuit of is a place all the same.
 */
export function placesOf(value: Named): NamedPlace[] {
  const places: NamedPlace[] = [];
  const add = (circuit: CircuitId | null, where: string): void => {
    if (placeName(where) === '' || placeAt(places, circuit, where)) return;
    places.push({
      key: `${circuit ?? 'unknown'}:${placeName(where)}`,
      circuit,
      name: where.split(/[,(;]/, 1)[0].trim(),
    });
  };
  // A part that its words name needs nobody to say which circuit it is of.
  const addPart = (name: string): void => {
    const itself = [...suggestedCircuits(name)].filter(([, factor]) => factor === circuits.said.itself);
    if (itself.length === 0) add(null, name);
  };
  for (const reading of value.readings) if (!reading.across) add(reading.circuit, reading.where);
  for (const injection of value.injections) {
    add(injection.circuit, injection.rail);
    if (injection.hotCircuit === null && injection.hot !== null) addPart(injection.hot);
  }
  for (const check of value.checks)
    if (check.circuit === null && damaging.has(check.outcome ?? '') && check.where !== '') addPart(check.where);
  for (const action of value.actions)
    if (action.circuit === null && workedOn.has(action.kind) && action.unit === null) addPart(action.target);
  return places.slice(0, maxPlaces);
}

/** Outcomes of a look or of a heat picture that make a place of where they were seen. */
const damaging = new Set(['residue', 'corrosion', 'burnt', 'cracked', 'one-spot']);
/** Changes to a part that stands at a place. */
const workedOn = new Set(['remove', 'replace', 'clean', 'reflow', 'burn', 'isolate', 'refit']);
/** Every place without a circuit may be in any of them: more than these cost time and tell nothing. */
const maxPlaces = 40;

/** Words that tell one place from another like it: numbers and sides. */
const sides = /\b(\p{L}+)[ -](side|half|storey|end)\b/giu;

function tellsApart(a: string, b: string): boolean {
  const numbers = (text: string): string => (text.match(/\d+(?:\.\d+)?/g) ?? []).sort().join(' ');
  const sidesOf = (text: string): string =>
    [...text.matchAll(sides)]
      .map((m) => m[0].toLowerCase())
      .sort()
      .join(' ');
  const [x, y] = [numbers(a), numbers(b)];
  if (x !== y && x !== '' && y !== '') return true;
  return sidesOf(a) !== sidesOf(b);
}

/**
 * Whether two names most likely mean one place, as different people call it at different times: "the line at the speck beside
 * the earpiece plug" and "speck of a capacitor beside the earpiece plug".
 *
 * @param a a name as somebody typed it
 * @param b another
 */
export function likelySamePlace(a: string, b: string): boolean {
  if (samePlace(a, b)) return true;
  const [x, y] = [placeName(a), placeName(b)];
  if (tellsApart(x, y)) return false;
  return sharedWords(x, y) >= 2 && nameOverlap(x, y) >= circuits.sameNet.overlapFrom;
}

/**
 * How likely two places are points of one net, by their names alone. 0 to 1.
 *
 * @param a a name as somebody typed it
 * @param b another
 * @returns 1 for one place; a base rate where the names say nothing, since people measure where they found something
 */
export function sameNetByName(a: string, b: string): number {
  if (likelySamePlace(a, b)) return 1;
  return sharedWords(placeName(a), placeName(b)) >= 2 ? circuits.sameNet.alike : circuits.sameNet.any;
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
  'line',
  'pad',
]);

/** Words of a name that tell it from others. */
function telling(text: string): string[] {
  return text
    .toLowerCase()
    .split(/[^\p{L}\p{N}.]+/u)
    .filter((word) => word !== '' && !filler.has(word));
}

function sharedWords(a: string, b: string): number {
  const y = new Set(telling(b));
  return [...new Set(telling(a))].filter((word) => y.has(word)).length;
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
