import type { Case } from '../case/index.ts';
import type { Shape } from '../shape/index.ts';
import { distanceOf } from './distance.ts';
import type { SignatureIndex } from './search.ts';
import settings from './settings.json';
import { comparable, signatureOf, type LibraryCase, type Signature } from './signature.ts';

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

export interface AlikeOptions {
  /** Id of the case in hand, which never counts as one before itself. */
  without: string;
  /** Cases that may count; all where left out. */
  counts?: (one: LibraryCase) => boolean;
}

/** A model's name as two people write it. */
export function modelKey(model: string): string {
  return model.trim().toLowerCase().replace(/\s+/g, ' ');
}

/**
 * Confirmed cases that the case in hand can be held against: all of its model, and the nearest of its class.
 *
 * @param value the case; only runs that were made before any change count
 * @param shapes by run id
 * @returns those of its model first, within them the nearest first
 */
export function alikeCases(
  index: SignatureIndex,
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  { without, counts = () => true }: AlikeOptions,
): AlikeCase[] {
  const here = value.runs.flatMap((run) => {
    const shape = shapes.get(run.id);
    return shape && run.after === null ? [signatureOf(run, shape)] : [];
  });
  const key = modelKey(value.device.model);
  const mayCount = (one: LibraryCase): boolean => one.id !== without && one.weight > 0 && counts(one);
  const isOwn = (one: LibraryCase): boolean => key !== '' && modelKey(one.model) === key;
  const own = index.cases.filter((one) => mayCount(one) && isOwn(one)).slice(-settings.ofModel);
  const near = new Set<LibraryCase>();
  const among = (place: number): boolean => {
    const one = index.cases[place];
    return one.deviceClass === value.device.class && mayCount(one) && !isOwn(one);
  };
  for (const signature of here)
    for (const n of index.nearest(signature, settings.ofClass, { among })) near.add(index.cases[n.case]);
  const beside = (one: LibraryCase, share: number): AlikeCase => held(here, one, one.weight * share);
  const inOrder = (list: AlikeCase[]): AlikeCase[] =>
    list.sort((a, b) => (a.squared ?? Number.POSITIVE_INFINITY) - (b.squared ?? Number.POSITIVE_INFINITY));
  return [
    ...inOrder(own.map((one) => beside(one, 1))),
    ...inOrder([...near].map((one) => beside(one, settings.otherModelWeight))),
  ];
}

function held(here: readonly Signature[], one: LibraryCase, weight: number): AlikeCase {
  const pairs = here.flatMap((a): RunPair[] => {
    const list = one.signatures
      .filter((b) => comparable(a.setup, b.setup))
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
