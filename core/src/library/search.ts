import { quickselect } from 'simple-statistics';
import { courseLength } from './course.ts';
import { courseAbsent, courseBand, courseFactor, featureCount, featureDistance, warpedDistance } from './distance.ts';
import settings from './settings.json';
import { Words, withRoom } from './columns.ts';
import { comparableKey, type Signature, type SignatureSetup } from './signature.ts';

/** A run that is near, with its squared distance: see `distanceOf`. */
export interface Neighbour {
  /** Number of the run, as {@link SignatureIndex.add} gave it. */
  run: number;
  squared: number;
}

interface SearchOptions {
  /** Runs that count, by number; all where left out. */
  among?: (run: number) => boolean;
  /** Squared distance from which a run is of no interest. */
  within?: number;
}

/** Runs that can be held against each other, packed one behind the other. */
interface Group {
  /** What makes them comparable. */
  setup: SignatureSetup;
  count: number;
  features: Float32Array;
  blurs: Float32Array;
  courses: Float32Array;
  /** 1 where the run has a course. */
  timed: Uint8Array;
  runs: Uint32Array;
}

/** A flag of a run. */
const isFlipped = 1;

/**
 * Signatures, packed, and the nearest of them exactly. The features are held against each other first, for all; then, the nearest
 * by features first, the courses: by the envelope of the one that is looked for (Keogh & Ratanamahatana 2005), and only what
 * may still be among the nearest by warping, which is given up as soon as it cannot. Nothing that is nearer is missed, since
 * every step is a lower bound of the next.
 *
 * @see Rakthanmanon et al., Searching and mining trillions of time series subsequences under dynamic time warping, KDD 2012
 */
export class SignatureIndex {
  private readonly groups: Group[] = [];
  private readonly byKey = new Map<string, number>();
  private readonly names = new Words();
  private readonly free: number[] = [];
  private highest = 0;
  private group = new Uint16Array(0);
  private place = new Uint32Array(0);
  private name = new Uint32Array(0);
  private port = new Uint8Array(0);
  private flags = new Uint8Array(0);

  /** How many runs it holds. */
  get size(): number {
    return this.highest - this.free.length;
  }

  /** What its lists take, in bytes. */
  get bytes(): number {
    const lists = this.groups.flatMap((g) => [g.features, g.blurs, g.courses, g.timed, g.runs]);
    return [...lists, this.group, this.place, this.name, this.port, this.flags].reduce(
      (sum, l) => sum + l.byteLength,
      0,
    );
  }

  /** Takes a run in. Gives its number, which stays its own until it is taken out. */
  add(signature: Signature): number {
    const number = this.groupNumber(signature.setup);
    const group = this.groups[number];
    const run = this.free.pop() ?? this.highest++;
    this.group = withRoom(this.group, this.highest);
    this.place = withRoom(this.place, this.highest);
    this.name = withRoom(this.name, this.highest);
    this.port = withRoom(this.port, this.highest);
    this.flags = withRoom(this.flags, this.highest);
    const at = group.count++;
    group.features = withRoom(group.features, group.count * featureCount);
    group.blurs = withRoom(group.blurs, group.count * featureCount);
    group.courses = withRoom(group.courses, group.count * courseLength);
    group.timed = withRoom(group.timed, group.count);
    group.runs = withRoom(group.runs, group.count);
    group.features.set(signature.features, at * featureCount);
    group.blurs.set(signature.blurs, at * featureCount);
    group.courses.set(signature.course, at * courseLength);
    group.timed[at] = signature.course.length > 0 ? 1 : 0;
    group.runs[at] = run;
    this.group[run] = number;
    this.place[run] = at;
    this.name[run] = this.names.numberOf(signature.run);
    this.port[run] = signature.setup.port;
    this.flags[run] = signature.setup.flipped ? isFlipped : 0;
    return run;
  }

  /** Takes a run out again; the last of its group moves to its place. */
  remove(run: number): void {
    const group = this.groups[this.group[run]];
    const at = this.place[run];
    const last = --group.count;
    group.features.copyWithin(at * featureCount, last * featureCount, (last + 1) * featureCount);
    group.blurs.copyWithin(at * featureCount, last * featureCount, (last + 1) * featureCount);
    group.courses.copyWithin(at * courseLength, last * courseLength, (last + 1) * courseLength);
    group.timed[at] = group.timed[last];
    group.runs[at] = group.runs[last];
    this.place[group.runs[at]] = at;
    this.free.push(run);
  }

  /** A run as it was taken in. */
  signatureOf(run: number): Signature {
    const group = this.groups[this.group[run]];
    const at = this.place[run];
    const part = (list: Float32Array, each: number): Float32Array => list.slice(at * each, (at + 1) * each);
    return {
      run: this.names.word(this.name[run]),
      setup: { ...group.setup, port: this.port[run], flipped: this.flags[run] === isFlipped },
      features: part(group.features, featureCount),
      blurs: part(group.blurs, featureCount),
      course: group.timed[at] ? part(group.courses, courseLength) : new Float32Array(0),
    };
  }

  /**
   * The nearest runs that can be held against this one, nearest first; of two that are equally near the one with the lower
   * number.
   *
   * @param query the run that is looked for
   * @param count how many at most
   */
  nearest(query: Signature, count: number, options: SearchOptions = {}): Neighbour[] {
    const number = this.byKey.get(comparableKey(query.setup));
    if (number === undefined || count < 1) return [];
    return searchGroup(this.groups[number], query, count, options);
  }

  private groupNumber(setup: SignatureSetup): number {
    const key = comparableKey(setup);
    const known = this.byKey.get(key);
    if (known !== undefined) return known;
    const [features, blurs, courses] = [new Float32Array(0), new Float32Array(0), new Float32Array(0)];
    const lists = { features, blurs, courses, timed: new Uint8Array(0), runs: new Uint32Array(0) };
    this.byKey.set(key, this.groups.length);
    return this.groups.push({ setup, count: 0, ...lists }) - 1;
  }
}

/** The nearest so far, nearest first. */
class Nearest {
  readonly squared: number[] = [];
  readonly runs: number[] = [];

  constructor(
    private readonly count: number,
    private readonly within: number,
  ) {}

  /** Squared distance that a run has to stay under. */
  get limit(): number {
    return this.squared.length < this.count ? this.within : this.squared[this.count - 1];
  }

  add(run: number, squared: number): void {
    // Of equals the one with the lower number.
    if (
      squared > this.limit ||
      (squared === this.limit && this.squared.length === this.count && run > this.runs[this.count - 1])
    )
      return;
    let k = this.squared.length;
    while (k > 0 && (this.squared[k - 1] > squared || (this.squared[k - 1] === squared && this.runs[k - 1] > run))) k--;
    this.squared.splice(k, 0, squared);
    this.runs.splice(k, 0, run);
    if (this.squared.length > this.count) {
      this.squared.pop();
      this.runs.pop();
    }
  }
}

function searchGroup(group: Group, query: Signature, count: number, options: SearchOptions): Neighbour[] {
  const n = group.count;
  const bounds = new Float64Array(n);
  const queryTimed = query.course.length > 0;
  const packed = { features: query.features, blurs: query.blurs };
  for (let k = 0; k < n; k++) {
    bounds[k] =
      options.among && !options.among(group.runs[k])
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
    if (course !== Number.POSITIVE_INFINITY) nearest.add(group.runs[k], bound + courseFactor * course);
  }
  return nearest.runs.map((run, at) => ({ run, squared: nearest.squared[at] }));
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
