import { Pauses } from '../transport/index.ts';
import { AnswerProblem, type Supply, type SupplyMeasurement } from './supply.ts';
import { Pause, reachPauses, SampleReporter, type Source, type SourceEvents } from './source.ts';

/** Wrong answers in a row after which the connection is made anew. */
const maxWrong = 20;

const msPerSecond = 1000;

interface PollOptions {
  /** Our clock, seconds, never going back. */
  now: () => number;
  /** From one measurement to the next, milliseconds; by the pace of its dialect where left out. */
  intervalMs?: number;
  pauses?: Pauses;
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
  private readonly reporter: SampleReporter;
  /** Answers that made no sense. */
  wrong = 0;

  constructor(
    private readonly supply: Supply,
    private readonly events: SourceEvents,
    private readonly options: PollOptions,
  ) {
    this.reporter = new SampleReporter(events);
  }

  start(): void {
    if (this.running) return;
    this.running = true;
    this.done = this.go();
  }

  hurry(): void {
    this.pause.cut();
  }

  async stop(): Promise<void> {
    this.running = false;
    this.pause.cut();
    this.supply.close();
    await this.done;
  }

  private async go(): Promise<void> {
    const pauses = this.options.pauses ?? new Pauses(reachPauses);
    while (this.running) {
      try {
        this.reporter.say('connecting', '');
        const says = await this.supply.open();
        await this.events.connected?.(says);
        pauses.reset();
        await this.poll();
      } catch (error) {
        if (!this.running) break;
        this.supply.close();
        this.reporter.say('lost', error instanceof Error ? error.message : String(error));
        await this.pause.wait(pauses.next());
      }
    }
    this.supply.close();
  }

  private async poll(): Promise<void> {
    const { now, intervalMs = msPerSecond / this.supply.dialect.rateHz, plausible = () => true } = this.options;
    let wrong = 0;
    while (this.running) {
      const asked = now();
      let measured: SupplyMeasurement | null = null;
      let why = '';
      try {
        measured = await this.supply.measure();
        if (!plausible(measured)) {
          why = `${measured.volts} V and ${measured.amps} A is not possible`;
          measured = null;
        }
      } catch (error) {
        if (!(error instanceof AnswerProblem) || !this.supply.isOpen) throw error;
        why = error.message;
      }
      const answered = now();
      if (measured === null) {
        this.wrong++;
        this.reporter.say('troubled', why);
        if (++wrong >= maxWrong) throw new AnswerProblem(`${wrong} wrong answers in a row, the last: ${why}`);
      } else {
        wrong = 0;
        // It measured at some time between the question and its answer: the middle is the best guess.
        this.reporter.took({ t: (asked + answered) / 2, v: measured.volts, i: measured.amps });
      }
      const left = intervalMs - 1000 * (now() - asked);
      if (left > 0) await this.pause.wait(left);
    }
  }
}
