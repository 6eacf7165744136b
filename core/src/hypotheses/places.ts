import type { CircuitId } from '../catalogue/index.ts';
import { placeName, type Case } from '../case/index.ts';
import { remembered } from '../quantity/index.ts';
import circuits from './circuits.json';
import { suggestedCircuits } from './vocabulary.ts';

/** A place on the board where something was measured, fed, found or changed. */
export interface NamedPlace {
  key: string;
  /** Null while nobody knows which circuit it belongs to. */
  circuit: CircuitId | null;
  /** As it was first called. */
  name: string;
  /** Places of one number are on one net, as somebody said. */
  net?: number;
}

/**
 * Whether two names mean one place: they are equal but for case, blanks and punctuation. Names that only resemble each other are
 * two places, which may be on one net; that two names are one place is for a person to say (`Case.places`).
 *
 * @param a a name as somebody typed it
 * @param b another
 * @example samePlace('PP main', 'pp  main') // true
 */
export function samePlace(a: string, b: string): boolean {
  const x = placeName(a);
  return x !== '' && x === placeName(b);
}

/** The place of this name in a circuit, or without one; null where nobody named it. */
export function placeAt(places: readonly NamedPlace[], circuit: CircuitId | null, where: string): NamedPlace | null {
  const among = places.filter((p) => p.circuit === circuit);
  return among.find((p) => samePlace(p.name, where)) ?? null;
}

type Named = Pick<Case, 'readings' | 'injections' | 'actions' | 'checks' | 'places'>;

/**
 * All places of a case: where something was measured to ground or fed, and, while it has no circuit, what was found damaged,
 * what warmed and what was worked on. One that nobody knows the circuit of is a place all the same.
 */
export function placesOf(value: Named): NamedPlace[] {
  const places: NamedPlace[] = [];
  const add = (circuit: CircuitId | null, where: string): void => {
    if (placeName(where) === '' || placeAt(places, circuit, where)) return;
    const net = value.places.find((p) => samePlace(p.where, where))?.net;
    places.push({
      key: `${circuit ?? 'unknown'}:${placeName(where)}`,
      circuit,
      name: where.trim(),
      ...(net !== undefined && { net }),
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

/** Words that tell one place from another that is called like it: sides, order, and which end of a part. */
const tellingApart = new Set(
  (
    'left right first second third fourth last upper lower top bottom front back rear inner outer other next ' +
    'neighbour neighbouring before behind input output source load primary secondary negative positive'
  ).split(' '),
);

/**
 * Whether a word of one name tells it from another: left and right, first and second, S4 and S5, before and behind.
 *
 * @param a a name as somebody typed it
 * @param b another
 */
export function isToldApart(a: string, b: string): boolean {
  return marksOf(a) !== marksOf(b);
}

const marksOf = remembered((text: string): string =>
  placeName(text)
    .split(' ')
    .filter((word) => tellingApart.has(word) || /\d/.test(word) || (/^\p{L}$/u.test(word) && !units.has(word)))
    .sort()
    .join(' '),
);

/** Single letters that are no mark of a place. */
const units = new Set(['a', 'v']);

/**
 * Whether two names may well mean one part, as different people call it at different times: "the line at the speck beside
 * the earpiece plug" and "speck of a capacitor beside the earpiece plug". A person is asked before they become one place.
 *
 * @param a a name as somebody typed it
 * @param b another
 */
export function likelySamePlace(a: string, b: string): boolean {
  if (samePlace(a, b)) return true;
  if (isToldApart(a, b)) return false;
  return sharedWords(a, b) >= 2 && nameOverlap(a, b) >= circuits.sameNet.overlapFrom;
}

/**
 * How likely two places are points of one net, by their names alone. 0 to 1.
 *
 * @param a a name as somebody typed it
 * @param b another
 * @returns 1 for one place; a base rate where the names say nothing, since people measure where they found something
 */
export function sameNetByName(a: string, b: string): number {
  if (samePlace(a, b)) return 1;
  if (likelySamePlace(a, b)) return circuits.sameNet.resembling;
  return sharedWords(a, b) >= 2 ? circuits.sameNet.alike : circuits.sameNet.any;
}

/**
 * Whether two places were said to be on one net, or on two.
 *
 * @param a a place
 * @param b another; null where it is none of the case
 * @returns 1 or 0; null where nobody said
 */
export function saidOneNet(a: NamedPlace, b: NamedPlace | null): number | null {
  if (b === null || a.net === undefined || b.net === undefined) return null;
  return a.net === b.net ? 1 : 0;
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
const telling = remembered((text: string): readonly string[] => [
  ...new Set(
    text
      .toLowerCase()
      .split(/[^\p{L}\p{N}.]+/u)
      .filter((word) => word !== '' && !filler.has(word)),
  ),
]);

function sharedWords(a: string, b: string): number {
  const y = telling(b);
  return telling(a).filter((word) => y.includes(word)).length;
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

/** Whether two names most likely mean one part. */
export function isSamePart(a: string, b: string): boolean {
  if (a === '' || b === '') return false;
  return likelySamePlace(a, b) || (nameOverlap(a, b) >= 1 && !isToldApart(a, b));
}
