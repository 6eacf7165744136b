const maxBins = 480;

/** An outline as it travels: the same numbers in plain lists. */
export interface OutlineState {
  width: number;
  sums: number[];
  counts: number[];
  peaks: number[];
  end: number;
}

/**
 * The outline of a run that is still going on: even stretches of time with mean and greatest current. When there are too
 * many, two become one, so that adding a sample costs the same, and the whole takes the same room, however long the run.
 */
export class Outline {
  /** Seconds that one stretch is wide. */
  width = 0.05;
  private sums: number[] = [];
  private counts: number[] = [];
  private peaks: number[] = [];
  /** Of the last sample, seconds. */
  end = 0;

  /** Goes on from what another one had seen. */
  static from(state: OutlineState): Outline {
    return Object.assign(new Outline(), state);
  }

  get state(): OutlineState {
    const { width, sums, counts, peaks, end } = this;
    return { width, sums, counts, peaks, end };
  }

  /** @param t seconds since the run began; @param i amperes, NaN where there was no reading */
  add(t: number, i: number): void {
    if (!(t >= 0)) return;
    while (t >= this.width * maxBins) this.fold();
    const bin = Math.floor(t / this.width);
    while (this.sums.length <= bin) {
      this.sums.push(0);
      this.counts.push(0);
      this.peaks.push(0);
    }
    this.end = Math.max(this.end, t);
    if (i !== i) return;
    this.sums[bin] += i;
    this.counts[bin]++;
    this.peaks[bin] = Math.max(this.peaks[bin], i);
  }

  private fold(): void {
    const half = Math.ceil(this.sums.length / 2);
    const at = (list: number[], k: number): number => list[k] ?? 0;
    const pairs = Array.from({ length: half }, (_, k) => [2 * k, 2 * k + 1]);
    const sums = pairs.map(([a, b]) => at(this.sums, a) + at(this.sums, b));
    const counts = pairs.map(([a, b]) => at(this.counts, a) + at(this.counts, b));
    const peaks = pairs.map(([a, b]) => Math.max(at(this.peaks, a), at(this.peaks, b)));
    Object.assign(this, { sums, counts, peaks, width: 2 * this.width });
  }

  /** Current of each stretch, between mean and greatest, amperes; one without a sample keeps the one before, null before the first. */
  levels(): (number | null)[] {
    let last: number | null = null;
    return this.counts.map((n, k) => {
      if (n > 0) last = 0.5 * (this.peaks[k] + this.sums[k] / n);
      return last;
    });
  }
}
