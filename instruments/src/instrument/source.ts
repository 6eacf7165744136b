import type { MeterReading } from '../dialect/index.ts';

/** One sample on our clock: seconds, volts, amperes; NaN where the instrument left a value out. */
export interface LiveSample {
  t: number;
  v: number;
  i: number;
}

export type Health = 'connecting' | 'measuring' | 'troubled' | 'lost';

/** What a source tells while it runs. */
export interface SourceEvents {
  sample(sample: LiveSample): void;
  /** What a multimeter shows. */
  reading?(reading: MeterReading): void;
  /** Nothing was measured from one instant to another; `why` in words. */
  gap(from: number, to: number, why: string): void;
  health(health: Health, why: string): void;
  /** After a connection came, before anything is measured: the place to make it safe. */
  connected?(says: string): Promise<void>;
}

/** Something that measures until it is stopped. */
export interface Source {
  start(): void;
  /** What it is waiting to try again is tried now. */
  hurry?(): void;
  stop(): Promise<void>;
}

/** Pauses between attempts to reach an instrument, milliseconds: twice as long each time, up to a bound. */
export const reachPauses = { min: 250, max: 5000 };

/** A pause that can be cut short. */
export class Pause {
  private end: (() => void) | null = null;

  wait(ms: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(() => this.cut(), ms);
      this.end = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  cut(): void {
    const { end } = this;
    this.end = null;
    end?.();
  }
}

/** A spacing of samples that counts as a gap: this many usual ones, and at least this long. */
const gapFactor = 5;
const gapLeastS = 0.5;

const tooMuch = 'it sends more than can be read; a part of it was left out';
/** After the last time that something was left out, seconds. */
const floodedS = 2;
const floodSaidEveryS = 1;

/** What every source reports in the same way: how it is, its samples in order, and the gaps between them. */
export class SampleReporter {
  private health: Health | null = null;
  private why = '';
  private lastAt: number | null = null;
  private spacing = 0;
  private floodedUntil = -Infinity;
  private floodSaidAt = -Infinity;

  constructor(private readonly events: SourceEvents) {}

  /** @param newReasons whether another reason for the same is told too */
  say(health: Health, why: string, newReasons = false): void {
    if (health === this.health && (!newReasons || why === this.why)) return;
    [this.health, this.why] = [health, why];
    this.events.health(health, why);
  }

  /**
   * More was sent than there was time for; said until it has been well for a while, and told as a gap now and then.
   *
   * @param now on our clock
   */
  flooded(now: number): void {
    if (now - this.floodSaidAt >= floodSaidEveryS) {
      this.events.gap(now, now, tooMuch);
      this.floodSaidAt = now;
    }
    this.floodedUntil = now + floodedS;
    this.say('troubled', tooMuch, true);
  }

  /** @param sample left out where it is not after the last */
  took(sample: LiveSample): void {
    if (this.lastAt !== null) {
      const space = sample.t - this.lastAt;
      if (space <= 0) return;
      if (space > Math.max(gapLeastS, gapFactor * this.spacing))
        this.events.gap(
          this.lastAt,
          sample.t,
          this.health === 'measuring' ? 'it answered late' : this.why || 'no measurement',
        );
      else this.spacing = this.spacing === 0 ? space : 0.9 * this.spacing + 0.1 * space;
    }
    this.lastAt = sample.t;
    if (sample.t > this.floodedUntil) this.say('measuring', '');
    this.events.sample(sample);
  }
}
