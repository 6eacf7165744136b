import { ClockMap } from './clock.ts';
import { SampleReporter, type Source, type SourceEvents } from './source.ts';
import settings from './seen-source.json';

/** What a page read off a display since it last told: seconds on its own clock, in order; null where a value is doubtful. */
export interface SeenReadings {
  /** The window that looks; one at a time. */
  by: string;
  samples: readonly (readonly [t: number, volts: number | null, amps: number | null])[];
  /** The page's clock when it told, seconds. */
  at: number;
  /** Why nothing can be read now, in words; empty while it reads. */
  why: string;
}

/**
 * An instrument whose display a camera watches: a page reads the numbers and tells them here. It is measuring while readings come, and
 * says why they do not.
 */
export class SeenSource implements Source {
  private readonly reporter: SampleReporter;
  private clock = new ClockMap();
  private timer: NodeJS.Timeout | null = null;
  private by: string | null = null;
  private heardAt = -Infinity;
  private readAt = -Infinity;
  private why = '';

  /** @param options `factor`: seconds of `now` that pass in a second of the page's clock */
  constructor(
    events: SourceEvents,
    private readonly options: { now: () => number; factor: number },
  ) {
    this.reporter = new SampleReporter(events);
  }

  start(): void {
    this.timer ??= setInterval(() => this.watch(), settings.watchEveryMs);
    this.reporter.say('lost', settings.nobody);
  }

  stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    return Promise.resolve();
  }

  /** The window that read it last. */
  get window(): string | null {
    return this.by;
  }

  /**
   * Takes what a page read.
   *
   * @returns false where another window read this display a moment ago: nothing was taken
   */
  take({ by, samples, at, why }: SeenReadings): boolean {
    const { now, factor } = this.options;
    const arrived = now();
    if (this.by !== by) {
      if (this.by !== null && this.isHeard) return false;
      this.clock = new ClockMap();
      this.by = by;
    }
    this.heardAt = arrived;
    this.why = why;
    // The page's clock is met by when it told; its samples are older than that.
    const offset = this.clock.map(at * factor, arrived) - at * factor;
    for (const [t, volts, amps] of samples) {
      if (amps === null) continue;
      this.readAt = arrived;
      this.reporter.took({ t: t * factor + offset, v: volts ?? NaN, i: amps });
    }
    if (samples.length === 0) this.watch();
    return true;
  }

  private get isHeard(): boolean {
    return this.options.now() - this.heardAt < settings.silentS * this.options.factor;
  }

  private watch(): void {
    if (!this.isHeard) return this.reporter.say('lost', settings.nobody, true);
    const silent = this.options.now() - this.readAt >= settings.silentS * this.options.factor;
    if (silent) this.reporter.say('lost', this.why || settings.nothing, true);
  }
}
