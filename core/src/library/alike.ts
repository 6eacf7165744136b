import type { Case } from '../case/index.ts';
import type { Shape } from '../shape/index.ts';
import { distanceOf } from './distance.ts';
import settings from './settings.json';
import type { CaseShelf } from './shelf.ts';
import { areComparable, modelKey, signatureOf, type LibraryCase, type Signature } from './signature.ts';

/** Two runs that were held against each other: of the case in hand, and of a confirmed one. */
export interface RunPair {
  here: Signature;
  there: Signature;
  squared: number;
}

/** A confirmed case beside the case in hand. */
export interface AlikeCase {
  one: LibraryCase;
  /** Every run that has its like in the other case, with the nearest of them. */
  pairs: RunPair[];
  /** Mean squared distance over the pairs; null where there are none. */
  squared: number | null;
  /** What it teaches here: its weight, less where it is of another model. */
  weight: number;
}

export interface LibraryQuestion {
  /** Id of the case in hand, which never counts as one before itself. */
  without: string;
  /** Milliseconds since 1970: only cases that were confirmed before count; all where null. */
  before: number | null;
}

/**
 * Confirmed cases that the case in hand can be held against: all of its model, and the nearest of its class.
 *
 * @param value the case; only runs that were made before any change count
 * @param shapes by run id
 * @returns those of its model first, within them the nearest first
 */
export function alikeCases(
  shelf: CaseShelf,
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  question: LibraryQuestion,
): AlikeCase[] {
  const here = value.runs.flatMap((run) => {
    const shape = shapes.get(run.id);
    return shape && run.after === null ? [signatureOf(run, shape)] : [];
  });
  const key = modelKey(value.device.model);
  const own = key === '' ? [] : shelf.ofModel(key, settings.ofModel, question);
  const ofClass = { ...question, deviceClass: value.device.class, ...(key === '' ? {} : { notModel: key }) };
  const places = new Set(here.flatMap((signature) => shelf.near(signature, settings.ofClass, ofClass)));
  const near = [...places].map((at) => shelf.caseAt(at));
  const beside = (one: LibraryCase, share: number): AlikeCase => held(here, one, one.weight * share);
  const inOrder = (list: AlikeCase[]): AlikeCase[] =>
    list.sort((a, b) => (a.squared ?? Number.POSITIVE_INFINITY) - (b.squared ?? Number.POSITIVE_INFINITY));
  return [
    ...inOrder(own.map((one) => beside(one, 1))),
    ...inOrder(near.map((one) => beside(one, settings.otherModelWeight))),
  ];
}

function held(here: readonly Signature[], one: LibraryCase, weight: number): AlikeCase {
  const pairs = here.flatMap((a): RunPair[] => {
    const list = one.signatures
      .filter((b) => areComparable(a.setup, b.setup))
      .map((b) => ({ here: a, there: b, squared: distanceOf(a, b) + otherwisePlugged(a, b) }));
    return list.length === 0 ? [] : [list.reduce((best, p) => (p.squared < best.squared ? p : best))];
  });
  const squared = pairs.length === 0 ? null : pairs.reduce((sum, p) => sum + p.squared, 0) / pairs.length;
  return { one, pairs, squared, weight };
}

/** Another port, or the plug the other way up, is nearly the same setup. */
function otherwisePlugged(a: Signature, b: Signature): number {
  const differs = Number(a.setup.port !== b.setup.port) + Number(a.setup.flipped !== b.setup.flipped);
  return differs * settings.otherwisePlugged;
}

/** How alike two cases are by their runs, 0 to 1: heavy in its tails, since two faults of one element differ in severity. */
export function likenessOf(squared: number): number {
  const { scale, power } = settings.kernel;
  return (1 + squared / scale) ** -power;
}
