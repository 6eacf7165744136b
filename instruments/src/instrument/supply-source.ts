import { AnswerProblem, type ScpiSupply, type SupplyMeasurement } from './supply.ts';
import { BackOff, Pause, type Health, type Source, type SourceEvents } from './source.ts';

/** A spacing of samples that counts as a gap: this many usual ones, and at least this long. */
const gapFactor = 5;
const gapLeastS = 0.5;
/** Wrong answers in a row after which the connection is made anew. */
const mostWrong = 20;

export interface PollOptions {
  /** Our clock, seconds, never going back. */
  now: () => number;
  /** Between two measurements, milliseconds; 0 for as fast as it answers. */
  intervalMs?: number;
  backOff?: BackOff;
  /** What can be true: anything else is no measurement. Volts, amperes. */
  plausible?: (m: SupplyMeasurement) => boolean;
}

/**
 * Asks a supply for volts and amperes again and again. An answer that makes no sense is left out and counted, a supply
 * that went away is looked for with growing pauses, and what was missed is reported as a gap.
 */
export class SupplySource implements Source {
  private running = false;
  private done: Promise<void> = Promise.resolve();
  private readonly pause = new Pause();
  private health: Health | null = null;
  private lastAt: number | null = null;
  private spacing = 0;
  /** Answers that made no sense. */
  wrong = 0;

  constructor(
    private readonly supply: ScpiSupply,
    private readonly events: SourceEvents,
    private readonly options: PollOptions,
  ) {}

  start(): void {
    if (this.running) return;
    this.running = true;
    this.done = this.go();
  }

  async stop(): Promise<void> {
    this.running = false;
    this.pause.cut();
    this.supply.close();
    await this.done;
  }

  private say(health: Health, why: string): void {
    if (health === this.health) return;
    this.health = health;
    this.events.health(health, why);
  }

  private async go(): Promise<void> {
    const backOff = this.options.backOff ?? new BackOff();
    while (this.running) {
      try {
        this.say('connecting', '');
        const says = await this.supply.open();
        await this.events.connected?.(says);
        backOff.reset();
        await this.poll();
      } catch (error) {
        if (!this.running) break;
        this.supply.close();
        this.say('lost', error instanceof Error ? error.message : String(error));
        await this.pause.wait(backOff.pause());
      }
    }
    this.supply.close();
  }

  private async poll(): Promise<void> {
    const { now, intervalMs = 0, plausible = () => true } = this.options;
    let wrong = 0;
    while (this.running) {
      const asked = now();
      let measured: SupplyMeasurement | null = null;
      let why = '';
      try {
        measured = await this.supply.measure();
        if (!plausible(measured)) {
          why = `${measured.volts} V and ${measured.amps} A cannot be`;
          measured = null;
        }
      } catch (error) {
        if (!(error instanceof AnswerProblem) || !this.supply.isOpen) throw error;
        why = error.message;
      }
      const answered = now();
      if (measured === null) {
        this.wrong++;
        this.say('troubled', why);
        if (++wrong >= mostWrong) throw new AnswerProblem(`${wrong} wrong answers in a row, the last: ${why}`);
      } else {
        wrong = 0;
        this.took((asked + answered) / 2, measured);
      }
      const left = intervalMs - 1000 * (now() - asked);
      if (left > 0) await this.pause.wait(left);
    }
  }

  /** The instrument measured at some time between the question and its answer: the middle is the best guess. */
  private took(at: number, { volts, amps }: SupplyMeasurement): void {
    if (this.lastAt !== null) {
      const space = at - this.lastAt;
      if (space > Math.max(gapLeastS, gapFactor * this.spacing)) {
        this.events.gap(this.lastAt, at, this.health === 'measuring' ? 'it answered late' : 'no measurement');
      } else this.spacing = this.spacing === 0 ? space : 0.9 * this.spacing + 0.1 * space;
    }
    this.lastAt = at;
    this.say('measuring', '');
    this.events.sample({ t: at, v: volts, i: amps });
  }
}
