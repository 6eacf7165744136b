import type { Envelope } from './envelope.ts';

/** A block is written whole: one row of the database. */
const blockOfBuckets = 4096;

/** Rows that one bucket of each level stands for, the finest first. */
// eslint-disable-next-line @typescript-eslint/no-magic-numbers -- the layout of the stored pyramid, not a figure of the domain
export const pyramidRows = [64, 1024, 16_384] as const;

/** Neighbouring rows of a run summed up: when each bucket begins, least, mean and greatest current, mean voltage. */
export interface Buckets {
  t: Float64Array;
  low: Float32Array;
  mean: Float32Array;
  high: Float32Array;
  volts: Float32Array;
  /** Seconds of the last row of the last bucket. */
  end: number;
}

interface Open {
  rows: number;
  t: number;
  low: number;
  high: number;
  sumA: number;
  countA: number;
  sumV: number;
  countV: number;
}

const empty = (): Open => ({ rows: 0, t: NaN, low: NaN, high: NaN, sumA: 0, countA: 0, sumV: 0, countV: 0 });

/**
 * Builds the coarser levels of a run while its rows go by, in memory that does not grow with the run: full blocks of
 * buckets are handed on as they come.
 */
export class PyramidBuilder {
  private readonly open = pyramidRows.map(empty);
  private readonly closed: Open[][] = pyramidRows.map(() => []);
  private last = NaN;

  /** @param onBlock takes a block of a level, 0 being the finest; blocks of a level come in order */
  constructor(
    private readonly onBlock: (level: number, buckets: Buckets) => void,
    private readonly bucketsInBlock = blockOfBuckets,
  ) {}

  /** Takes one row: seconds, volts, amperes, with NaN where absent. */
  add(t: number, v: number, i: number): void {
    this.last = t;
    const o = this.open[0];
    if (o.rows === 0) o.t = t;
    o.rows++;
    if (i === i) {
      if (!(o.low <= i)) o.low = i;
      if (!(o.high >= i)) o.high = i;
      o.sumA += i;
      o.countA++;
    }
    if (v === v) {
      o.sumV += v;
      o.countV++;
    }
    if (o.rows === pyramidRows[0]) this.close(0);
  }

  private close(level: number): void {
    const done = this.open[level];
    this.open[level] = empty();
    this.closed[level].push(done);
    if (level + 1 < pyramidRows.length) {
      merge(this.open[level + 1], done);
      if (this.open[level + 1].rows >= pyramidRows[level + 1]) this.close(level + 1);
    }
    if (this.closed[level].length === this.bucketsInBlock) this.flush(level);
  }

  private flush(level: number): void {
    const all = this.closed[level];
    this.closed[level] = [];
    if (all.length === 0) return;
    this.onBlock(level, {
      t: Float64Array.from(all, (o) => o.t),
      low: Float32Array.from(all, (o) => o.low),
      mean: Float32Array.from(all, (o) => (o.countA === 0 ? NaN : o.sumA / o.countA)),
      high: Float32Array.from(all, (o) => o.high),
      volts: Float32Array.from(all, (o) => (o.countV === 0 ? NaN : o.sumV / o.countV)),
      end: this.last,
    });
  }

  /** Hands on what is left. The builder is not to be used afterwards. */
  finish(): void {
    pyramidRows.forEach((_, level) => {
      if (this.open[level].rows > 0) this.close(level);
      this.flush(level);
    });
  }
}

function merge(into: Open, from: Open): void {
  if (into.rows === 0) into.t = from.t;
  into.rows += from.rows;
  if (!(into.low <= from.low) && from.low === from.low) into.low = from.low;
  if (!(into.high >= from.high) && from.high === from.high) into.high = from.high;
  into.sumA += from.sumA;
  into.countA += from.countA;
  into.sumV += from.sumV;
  into.countV += from.countV;
}

/** Stretches of a picture, each with that many buckets or rows at least, are told apart well enough. */
const minInPicture = 4;

/**
 * The coarsest data that still fills a picture.
 *
 * @param rows of the run that fall into the picture
 * @param bins stretches that are drawn
 * @returns a level of the pyramid; null for the rows themselves
 */
export function levelFor(rows: number, bins: number): number | null {
  const wanted = minInPicture * bins;
  for (let level = pyramidRows.length - 1; level >= 0; level--) if (rows / pyramidRows[level] >= wanted) return level;
  return null;
}

/**
 * Draws buckets as {@link envelopeOf} draws rows: no spike is lost, and a bucket counts where its middle lies.
 *
 * @param blocks of one level, in order
 * @returns amperes and, beside them, the mean voltage of every stretch
 */
export function envelopeOfBuckets(
  blocks: readonly Buckets[],
  t0: number,
  t1: number,
  bins: number,
): Envelope & { volts: Float32Array } {
  const width = (t1 - t0) / bins;
  const nan = (): Float32Array => new Float32Array(bins).fill(NaN);
  const out = {
    t: Float64Array.from({ length: bins }, (_, k) => t0 + (k + 0.5) * width),
    low: nan(),
    mean: nan(),
    high: nan(),
    volts: nan(),
  };
  const counts = { a: new Uint32Array(bins), v: new Uint32Array(bins) };
  const sums = { a: new Float64Array(bins), v: new Float64Array(bins) };
  blocks.forEach((block, b) => {
    const n = block.t.length;
    for (let k = 0; k < n; k++) {
      const next = k + 1 < n ? block.t[k + 1] : (blocks[b + 1]?.t[0] ?? block.end);
      const middle = (block.t[k] + next) / 2;
      if (middle < t0 || middle > t1) continue;
      const bin = Math.min(bins - 1, Math.max(0, Math.floor((middle - t0) / width)));
      if (!(out.low[bin] <= block.low[k]) && block.low[k] === block.low[k]) out.low[bin] = block.low[k];
      if (!(out.high[bin] >= block.high[k]) && block.high[k] === block.high[k]) out.high[bin] = block.high[k];
      if (block.mean[k] === block.mean[k]) {
        sums.a[bin] += block.mean[k];
        counts.a[bin]++;
      }
      if (block.volts[k] === block.volts[k]) {
        sums.v[bin] += block.volts[k];
        counts.v[bin]++;
      }
    }
  });
  for (let bin = 0; bin < bins; bin++) {
    if (counts.a[bin] > 0) out.mean[bin] = sums.a[bin] / counts.a[bin];
    if (counts.v[bin] > 0) out.volts[bin] = sums.v[bin] / counts.v[bin];
  }
  return out;
}
