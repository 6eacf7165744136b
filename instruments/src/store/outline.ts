const maxBins = 480;

/** An outline as it travels: the same numbers in plain lists. */
export interface OutlineState {
  width: number;
  sums: number[];
  counts: number[];
  peaks: number[];
  /** Sums of the voltages, and how many they were. */
  volts: number[];
  voltCounts: number[];
  end: number;
}

/**
 * The outline of a run that is still going on: even stretches of time with mean and greatest current, and mean voltage. When there are too
 * many, two become one, so that adding a sample costs the same, and the whole takes the same room, however long the run.
 */
export class Outline {
  /** Seconds that one stretch is wide. */
  width = 0.05;
  private sums: number[] = [];
  private counts: number[] = [];
  private peaks: number[] = [];
  private volts: number[] = [];
  private voltCounts: number[] = [];
  /** Of the last sample, seconds. */
  end = 0;

  /** Goes on from what another one had seen. */
  static from(state: OutlineState): Outline {
    return Object.assign(new Outline(), state);
  }

  get state(): OutlineState {
    const { width, sums, counts, peaks, volts, voltCounts, end } = this;
    return { width, sums, counts, peaks, volts, voltCounts, end };
  }

  /** @param t seconds since the run began; @param i amperes, @param v volts, NaN where there was no reading */
  add(t: number, i: number, v: number): void {
    if (!(t >= 0)) return;
    while (t >= this.width * maxBins) this.fold();
    const bin = Math.floor(t / this.width);
    while (this.sums.length <= bin) {
      this.sums.push(0);
      this.counts.push(0);
      this.peaks.push(0);
      this.volts.push(0);
      this.voltCounts.push(0);
    }
    this.end = Math.max(this.end, t);
    if (v === v) {
      this.volts[bin] += v;
      this.voltCounts[bin]++;
    }
    if (i !== i) return;
    this.sums[bin] += i;
    this.counts[bin]++;
    this.peaks[bin] = Math.max(this.peaks[bin], i);
  }

  private fold(): void {
    const half = Math.ceil(this.sums.length / 2);
    const at = (list: number[], k: number): number => list[k] ?? 0;
    const pairs = Array.from({ length: half }, (_, k) => [2 * k, 2 * k + 1]);
    const added = (list: number[]): number[] => pairs.map(([a, b]) => at(list, a) + at(list, b));
    const [sums, counts, volts, voltCounts] = [this.sums, this.counts, this.volts, this.voltCounts].map(added);
    const peaks = pairs.map(([a, b]) => Math.max(at(this.peaks, a), at(this.peaks, b)));
    Object.assign(this, { sums, counts, peaks, volts, voltCounts, width: 2 * this.width });
  }

  /** Current of each stretch, between mean and greatest, amperes; one without a sample keeps the one before, null before the first. */
  levels(): (number | null)[] {
    let last: number | null = null;
    return this.counts.map((n, k) => {
      if (n > 0) last = 0.5 * (this.peaks[k] + this.sums[k] / n);
      return last;
    });
  }

  /** Voltage of each stretch, volts; null where none was read. */
  voltLevels(): (number | null)[] {
    return this.voltCounts.map((n, k) => (n > 0 ? this.volts[k] / n : null));
  }
}
