/** Counts of what was mended on the way, in rows. */
interface OrderRepairs {
  reordered: number;
  duplicates: number;
  spread: number;
  late: number;
}

export type RowSink = (t: number, v: number, i: number) => void;

/**
 * Puts rows in order of time, within bounded memory: rows are sorted in a window of `capacity`; whatever is older than
 * what has already been passed on is counted as late and left out. Rows that share a time are spread evenly up to the
 * next time where they differ or the clock is coarse; plain repetitions are dropped.
 */
export class RowSorter {
  readonly repairs: OrderRepairs = { reordered: 0, duplicates: 0, spread: 0, late: 0 };
  private readonly capacity: number;
  private readonly sink: RowSink;
  private t: Float64Array;
  private v: Float32Array;
  private i: Float32Array;
  private length = 0;
  private disordered = false;
  private coarse: boolean | null = null;
  private passed = -Infinity;

  constructor(sink: RowSink, capacity = 1 << 20) {
    this.sink = sink;
    this.capacity = capacity;
    const initial = Math.min(capacity, 8192);
    this.t = new Float64Array(initial);
    this.v = new Float32Array(initial);
    this.i = new Float32Array(initial);
  }

  /** Takes one row: seconds, volts, amperes, NaN where absent. */
  add(t: number, v: number, i: number): void {
    if (t < this.passed) {
      this.repairs.late++;
      return;
    }
    if (this.length === this.t.length) this.makeRoom();
    const k = this.length++;
    this.t[k] = t;
    this.v[k] = v;
    this.i[k] = i;
    if (k > 0 && t < this.t[k - 1]) {
      this.disordered = true;
      this.repairs.reordered++;
    }
  }

  private makeRoom(): void {
    if (this.t.length < this.capacity) {
      const size = Math.min(this.capacity, this.t.length * 4);
      const [t, v, i] = [new Float64Array(size), new Float32Array(size), new Float32Array(size)];
      t.set(this.t);
      v.set(this.v);
      i.set(this.i);
      [this.t, this.v, this.i] = [t, v, i];
      return;
    }
    this.sort();
    let count = this.length >> 1;
    while (count < this.length && count > 0 && this.t[count] === this.t[count - 1]) count++;
    this.pass(count);
    this.t.copyWithin(0, count, this.length);
    this.v.copyWithin(0, count, this.length);
    this.i.copyWithin(0, count, this.length);
    this.length -= count;
  }

  private sort(): void {
    if (!this.disordered) return;
    const order = Uint32Array.from({ length: this.length }, (_, k) => k).sort((a, b) => this.t[a] - this.t[b] || a - b);
    const [t, v, i] = [this.t.slice(), this.v.slice(), this.i.slice()];
    order.forEach((from, k) => {
      this.t[k] = t[from];
      this.v[k] = v[from];
      this.i[k] = i[from];
    });
    this.disordered = false;
  }

  /** Passes the first `count` rows on. */
  private pass(count: number): void {
    const { t, v, i } = this;
    this.coarse ??= this.isCoarse(count);
    for (let from = 0; from < count;) {
      let to = from + 1;
      while (to < count && t[to] === t[from]) to++;
      if (to === from + 1) this.sink(t[from], v[from], i[from]);
      else this.passGroup(from, to, to < this.length ? t[to] : NaN);
      from = to;
    }
    if (count > 0) this.passed = t[count - 1];
  }

  private passGroup(from: number, to: number, nextT: number): void {
    const kept: number[] = [];
    for (let k = from; k < to; k++) {
      const repeats = kept.some((j) => Object.is(this.v[j], this.v[k]) && Object.is(this.i[j], this.i[k]));
      if (repeats && !this.coarse) this.repairs.duplicates++;
      else kept.push(k);
    }
    const before = from > 0 ? this.t[from] - this.t[from - 1] : NaN;
    const room = Number.isFinite(nextT) ? nextT - this.t[from] : before;
    const step = (Number.isFinite(room) ? Math.min(room, before || room, 5) : 0.001) / kept.length;
    if (kept.length > 1) this.repairs.spread += kept.length - 1;
    kept.forEach((k, n) => this.sink(this.t[from] + n * step, this.v[k], this.i[k]));
  }

  /** A clock that stands for several rows as a rule. */
  private isCoarse(count: number): boolean {
    let same = 0;
    for (let k = 1; k < count; k++) if (this.t[k] === this.t[k - 1]) same++;
    return same > 0.3 * count;
  }

  /** Passes on what is left. */
  finish(): void {
    this.sort();
    this.pass(this.length);
    this.length = 0;
  }
}
