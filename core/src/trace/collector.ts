import { correctReading } from './correct.ts';
import type { Instrument, Summary } from './types.ts';

/** Two million samples: an hour at 500 a second. */
const maxSamples = 2_097_152;
/** Room at the start; it doubles. */
const initialSamples = 4096;

interface Collected {
  t: Float64Array;
  v: Float32Array;
  i: Float32Array;
  /** Rows seen, which may be more than the samples kept. */
  rows: number;
  /** Rows averaged into one sample: 1 where all were kept. */
  reducedBy: number;
}

/**
 * Gathers a stream of rows in bounded memory. Up to `capacity` rows are kept as they come; beyond that, neighbours are
 * averaged in pairs and the stride doubles, so that a run of any length ends with between half and all of `capacity`
 * samples. The figures of the summary are exact over every row.
 */
export class TraceCollector {
  private t: Float64Array;
  private v: Float32Array;
  private i: Float32Array;
  private length = 0;
  private rows = 0;
  private stride = 1;
  private pending = { count: 0, t: 0, v: 0, nv: 0, i: 0, ni: 0 };
  private totals = { sumA: 0, countA: 0, maxA: -Infinity, minA: Infinity, sumV: 0, countV: 0, first: NaN, last: NaN };

  private readonly capacity: number;

  /** @param capacity most samples kept; even, at least 2 */
  constructor(capacity = maxSamples) {
    this.capacity = capacity;
    const initial = Math.min(capacity, initialSamples);
    this.t = new Float64Array(initial);
    this.v = new Float32Array(initial);
    this.i = new Float32Array(initial);
  }

  /** Takes one row: seconds, volts, amperes, with NaN where absent. */
  add(t: number, v: number, i: number): void {
    const s = this.totals;
    if (this.rows === 0) s.first = t;
    s.last = t;
    this.rows++;
    if (i === i) {
      s.sumA += i;
      s.countA++;
      if (i > s.maxA) s.maxA = i;
      if (i < s.minA) s.minA = i;
    }
    if (v === v) {
      s.sumV += v;
      s.countV++;
    }
    if (this.stride === 1 && this.length < this.capacity) {
      this.keep(t, v, i);
      return;
    }
    if (this.length === this.capacity && this.pending.count === 0) this.halve();
    const p = this.pending;
    if (p.count === 0) p.t = t;
    p.count++;
    if (v === v) {
      p.v += v;
      p.nv++;
    }
    if (i === i) {
      p.i += i;
      p.ni++;
    }
    if (p.count === this.stride) this.flush();
  }

  private flush(): void {
    const p = this.pending;
    this.pending = { count: 0, t: 0, v: 0, nv: 0, i: 0, ni: 0 };
    if (p.count > 0) this.keep(p.t, p.nv === 0 ? NaN : p.v / p.nv, p.ni === 0 ? NaN : p.i / p.ni);
  }

  private keep(t: number, v: number, i: number): void {
    if (this.length === this.t.length) this.makeRoom();
    this.t[this.length] = t;
    this.v[this.length] = v;
    this.i[this.length] = i;
    this.length++;
  }

  private makeRoom(): void {
    const size = Math.min(this.capacity, this.t.length * 2);
    this.t = copyInto(new Float64Array(size), this.t);
    this.v = copyInto(new Float32Array(size), this.v);
    this.i = copyInto(new Float32Array(size), this.i);
  }

  /** Averages neighbours in pairs; from here on a sample stands for twice as many rows. */
  private halve(): void {
    const half = this.length >> 1;
    for (let k = 0; k < half; k++) {
      this.t[k] = this.t[2 * k];
      this.v[k] = meanOf(this.v[2 * k], this.v[2 * k + 1]);
      this.i[k] = meanOf(this.i[2 * k], this.i[2 * k + 1]);
    }
    this.length = half;
    this.stride *= 2;
  }

  /** What was gathered up to now; the stream may go on. Rows that wait for a neighbour are not in it yet. */
  soFar(): Collected {
    return {
      t: this.t.slice(0, this.length),
      v: this.v.slice(0, this.length),
      i: this.i.slice(0, this.length),
      rows: this.rows,
      reducedBy: this.stride,
    };
  }

  /** Ends the stream. The collector is not to be used afterwards. */
  finish(): Collected {
    this.flush();
    return this.soFar();
  }

  /** Exact figures of every row, corrected for the instrument. */
  summary(instrument: Instrument): Summary {
    const s = this.totals;
    const amps = (x: number): number => correctReading(x, instrument.gainA, instrument.offsetA);
    return {
      rows: this.rows,
      firstS: this.rows === 0 ? null : s.first,
      lastS: this.rows === 0 ? null : s.last,
      meanA: s.countA === 0 ? null : amps(s.sumA / s.countA),
      maxA: s.countA === 0 ? null : amps(instrument.gainA < 0 ? s.minA : s.maxA),
      meanV: s.countV === 0 ? null : correctReading(s.sumV / s.countV, instrument.gainV, instrument.offsetV),
    };
  }
}

function copyInto<T extends Float64Array | Float32Array>(target: T, source: T): T {
  target.set(source);
  return target;
}

/** Mean of two readings of which either may be absent. */
function meanOf(a: number, b: number): number {
  if (a !== a) return b;
  if (b !== b) return a;
  return (a + b) / 2;
}
