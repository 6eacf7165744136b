import { quickselect } from 'simple-statistics';
import { courseLength } from './course.ts';
import { courseAbsent, courseBand, courseFactor, featureCount, featureDistance, warpedDistance } from './distance.ts';
import settings from './settings.json';
import { comparableKey, type LibraryCase, type Signature } from './signature.ts';

/** A run of the library that is near, with its squared distance: see `distanceOf`. */
export interface Neighbour {
  /** Place of its case in the list that the index was made of. */
  case: number;
  /** Place of the run among the signatures of that case. */
  signature: number;
  squared: number;
}

export interface SearchOptions {
  /** Cases that count; all where left out. */
  among?: (place: number) => boolean;
  /** Squared distance from which a run is of no interest. */
  within?: number;
}

/** Runs that can be held against each other, packed one behind the other. */
interface Group {
  features: Float32Array;
  blurs: Float32Array;
  courses: Float32Array;
  /** 1 where the run has a course. */
  timed: Uint8Array;
  cases: Uint32Array;
  places: Uint16Array;
}

/**
 * Finds the nearest runs of a library exactly. The features are held against each other first, for all; then, the nearest
 * by features first, the courses: by the envelope of the one that is looked for (Keogh & Ratanamahatana 2005), and only what
 * may still be among the nearest by warping, which is given up as soon as it cannot. Nothing that is nearer is missed, since
 * every step is a lower bound of the next.
 *
 * @see Rakthanmanon et al., Searching and mining trillions of time series subsequences under dynamic time warping, KDD 2012
 */
export class SignatureIndex {
  private readonly groups = new Map<string, Group>();

  /** @param cases as they are; the index keeps places in this list, and no samples */
  constructor(readonly cases: readonly LibraryCase[]) {
    const lists = new Map<string, [number, number, Signature][]>();
    cases.forEach((one, c) =>
      one.signatures.forEach((signature, s) => {
        const key = comparableKey(signature.setup);
        const list = lists.get(key);
        if (list) list.push([c, s, signature]);
        else lists.set(key, [[c, s, signature]]);
      }),
    );
    for (const [key, list] of lists) this.groups.set(key, pack(list));
  }

  /** How many runs it holds. */
  get size(): number {
    return [...this.groups.values()].reduce((sum, g) => sum + g.cases.length, 0);
  }

  /** What its lists take, in bytes; the cases themselves are not counted. */
  get bytes(): number {
    return [...this.groups.values()].reduce(
      (sum, g) =>
        sum + [g.features, g.blurs, g.courses, g.timed, g.cases, g.places].reduce((b, a) => b + a.byteLength, 0),
      0,
    );
  }

  /**
   * The nearest runs that can be held against this one, nearest first; of two that are equally near the one that stands
   * first in the library.
   *
   * @param query the run that is looked for
   * @param count how many at most
   */
  nearest(query: Signature, count: number, options: SearchOptions = {}): Neighbour[] {
    const group = this.groups.get(comparableKey(query.setup));
    if (!group || count < 1) return [];
    return searchGroup(group, query, count, options);
  }
}

function pack(list: readonly [number, number, Signature][]): Group {
  const n = list.length;
  const group: Group = {
    features: new Float32Array(n * featureCount),
    blurs: new Float32Array(n * featureCount),
    courses: new Float32Array(n * courseLength),
    timed: new Uint8Array(n),
    cases: new Uint32Array(n),
    places: new Uint16Array(n),
  };
  list.forEach(([c, s, signature], k) => {
    group.features.set(signature.features, k * featureCount);
    group.blurs.set(signature.blurs, k * featureCount);
    if (signature.course.length > 0) {
      group.courses.set(signature.course, k * courseLength);
      group.timed[k] = 1;
    }
    group.cases[k] = c;
    group.places[k] = s;
  });
  return group;
}

/** The nearest so far, nearest first. */
class Nearest {
  readonly squared: number[] = [];
  readonly places: number[] = [];

  constructor(
    private readonly count: number,
    private readonly within: number,
  ) {}

  /** Squared distance that a run has to stay under. */
  get limit(): number {
    return this.squared.length < this.count ? this.within : this.squared[this.count - 1];
  }

  add(place: number, squared: number): void {
    // Of equals the one that stands first in the library.
    if (
      squared > this.limit ||
      (squared === this.limit && this.squared.length === this.count && place > this.places[this.count - 1])
    )
      return;
    let k = this.squared.length;
    while (k > 0 && (this.squared[k - 1] > squared || (this.squared[k - 1] === squared && this.places[k - 1] > place)))
      k--;
    this.squared.splice(k, 0, squared);
    this.places.splice(k, 0, place);
    if (this.squared.length > this.count) {
      this.squared.pop();
      this.places.pop();
    }
  }
}

function searchGroup(group: Group, query: Signature, count: number, options: SearchOptions): Neighbour[] {
  const n = group.cases.length;
  const bounds = new Float64Array(n);
  const queryTimed = query.course.length > 0;
  const packed = { features: query.features, blurs: query.blurs };
  for (let k = 0; k < n; k++) {
    bounds[k] =
      options.among && !options.among(group.cases[k])
        ? Number.POSITIVE_INFINITY
        : featureDistance(packed, 0, group, k * featureCount) + (queryTimed && group.timed[k] ? 0 : courseAbsent);
  }
  const nearest = new Nearest(count, options.within ?? Number.POSITIVE_INFINITY);
  const warp = queryTimed ? new Warp(query.course) : null;
  for (const k of nearestFirst(bounds, () => nearest.limit)) {
    const bound = bounds[k];
    if (bound > nearest.limit || bound === Number.POSITIVE_INFINITY) break;
    const course =
      warp && group.timed[k] ? warp.distance(group.courses, k * courseLength, stillUnder(nearest.limit - bound)) : 0;
    if (course !== Number.POSITIVE_INFINITY) nearest.add(k, bound + courseFactor * course);
  }
  return nearest.places.map((k, at) => ({
    case: group.cases[k],
    signature: group.places[k],
    squared: nearest.squared[at],
  }));
}

const rounding = 1e-9;

/** A limit on the squared steps of a course that what is equally near does not fall to by rounding. */
const stillUnder = (squared: number): number => (squared / courseFactor) * (1 + rounding) + rounding;

/**
 * Places in the order of their bounds. The first few are nearly always enough; of the others only those are put in order
 * that can still be among the nearest.
 */
function* nearestFirst(bounds: Float64Array, limit: () => number): Generator<number> {
  const inOrder = (places: number[]): number[] => places.sort((a, b) => bounds[a] - bounds[b] || a - b);
  const under = (from: number, to: number): number[] => {
    const places: number[] = [];
    for (let k = 0; k < bounds.length; k++) if (bounds[k] >= from && bounds[k] < to) places.push(k);
    return places;
  };
  if (bounds.length <= settings.firstLook) return yield* inOrder(Array.from(bounds.keys()));
  const cut = smallestOf(bounds, settings.firstLook);
  yield* inOrder(under(Number.NEGATIVE_INFINITY, cut));
  yield* inOrder(under(cut, limit() * (1 + rounding) + rounding));
}

/** The value that `count` of a list are under: of a sample, where the list is long, since the order does not change by it. */
function smallestOf(bounds: Float64Array, count: number): number {
  const every = Math.max(1, Math.floor(bounds.length / settings.sample));
  const sample: number[] = [];
  for (let k = 0; k < bounds.length; k += every) sample.push(bounds[k]);
  const at = Math.min(sample.length - 1, Math.max(1, Math.round(count / every)));
  quickselect(sample, at);
  return sample[at];
}

/** One course that others are held against: its envelope within the band, and the rows that the warping writes over. */
class Warp {
  private readonly low = new Float64Array(courseLength);
  private readonly high = new Float64Array(courseLength);
  private readonly rests = new Float64Array(courseLength + 1);
  private readonly rows: readonly [Float64Array, Float64Array] = [
    new Float64Array(courseLength + 2),
    new Float64Array(courseLength + 2),
  ];

  constructor(private readonly course: Float32Array) {
    for (let k = 0; k < courseLength; k++) {
      let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
      for (let c = Math.max(0, k - courseBand); c <= Math.min(courseLength - 1, k + courseBand); c++) {
        low = Math.min(low, course[c]);
        high = Math.max(high, course[c]);
      }
      this.low[k] = low;
      this.high[k] = high;
    }
  }

  /** Least sum of squared steps to the course at a place; infinite where it is above `limit`. */
  distance(courses: Float32Array, at: number, limit: number): number {
    let sum = 0;
    this.rests[courseLength] = 0;
    for (let k = courseLength - 1; k >= 0; k--) {
      const x = courses[at + k];
      const d = x > this.high[k] ? x - this.high[k] : x < this.low[k] ? this.low[k] - x : 0;
      sum += d * d;
      if (sum > limit) return Number.POSITIVE_INFINITY;
      this.rests[k] = sum;
    }
    return warpedDistance(courses, at, this.course, 0, limit, this.rests, this.rows);
  }
}
