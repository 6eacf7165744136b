import { absurdAbove } from '@umbral/core';
import { Pauses } from '../transport/index.ts';
import { bytesOfHex, decoderFor, type SentDialect, type Decoder, type MeterValues } from '../dialect/index.ts';
import type { Connection, Transport } from '../transport/index.ts';
import { ClockMap } from './clock.ts';
import { sayBytes } from './say-bytes.ts';
import { Pause, reachPauses, SampleReporter, type Source, type SourceEvents } from './source.ts';

const quietS = 2;
const watchEveryMs = 250;
/** Bytes of what nobody understood that are shown. */
const shownBytes = 24;

/**
 * Listens to a meter that sends lines or frames, by itself or when it is asked. What is no measurement is left out and
 * counted; a meter that falls silent is connected anew, and what it said that nobody understood is told.
 */
export class MeterSource implements Source {
  private running = false;
  private done: Promise<void> = Promise.resolve();
  private readonly pause = new Pause();
  private connection: Connection | null = null;
  private readonly reporter: SampleReporter;
  private clock = new ClockMap();
  private values = 0;
  private wrongBefore = 0;
  private decoder: Decoder | null = null;

  constructor(
    private readonly transport: Transport,
    private readonly dialect: SentDialect,
    private readonly events: SourceEvents,
    private readonly options: { now: () => number; pauses?: Pauses },
  ) {
    this.reporter = new SampleReporter(events);
  }

  /** Lines or frames that were no measurement. */
  get wrong(): number {
    return this.wrongBefore + (this.decoder?.wrong ?? 0);
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
    this.connection?.close();
    await this.done;
  }

  private async go(): Promise<void> {
    const pauses = this.options.pauses ?? new Pauses(reachPauses);
    while (this.running) {
      try {
        this.reporter.say('connecting', '');
        await this.listen(() => pauses.reset());
      } catch (error) {
        if (this.running) this.reporter.say('lost', error instanceof Error ? error.message : String(error));
      }
      if (this.running) await this.pause.wait(pauses.next());
    }
  }

  private async listen(heard: () => void): Promise<void> {
    const { now } = this.options;
    const { dialect } = this;
    this.clock = new ClockMap();
    this.values = 0;
    this.wrongBefore = this.wrong;
    let [lastValue, lastPiece] = [now(), now()];
    let unread: Uint8Array = new Uint8Array(0);
    let ageOfPiece = 0;
    const decoder = decoderFor(
      dialect,
      (values) => {
        lastValue = now();
        heard();
        this.took(values, lastValue - ageOfPiece);
      },
      (reading) => {
        lastValue = now();
        heard();
        this.reporter.say('measuring', '');
        this.events.reading?.(reading);
      },
    );
    this.decoder = decoder;
    await new Promise<void>((resolve, reject) => {
      const timers: NodeJS.Timeout[] = [];
      this.transport
        .connect({
          data: (piece, ageS = 0) => {
            ageOfPiece = ageS;
            lastPiece = now();
            unread = piece.slice(0, shownBytes);
            decoder.push(piece);
          },
          left: () => {
            decoder.skip();
            this.reporter.flooded(now());
          },
          closed: (reason) => {
            timers.forEach((timer) => clearInterval(timer));
            this.connection = null;
            if (reason === null) resolve();
            else reject(new Error(`${this.transport.where}: ${reason}`));
          },
        })
        .then(async (connection) => {
          this.connection = connection;
          await this.events.connected?.(dialect.name);
          const watch = (): void => {
            if (now() - lastValue < quietS) return;
            const isSilent = now() - lastPiece >= quietS;
            const why = isSilent
              ? `silent for ${quietS} s`
              : `it sends data, but not in this language: got ${sayBytes(unread)}`;
            this.reporter.say('lost', `${this.transport.where}: ${why}`);
            connection.close();
          };
          timers.push(setInterval(watch, watchEveryMs));
          if ('request' in dialect && dialect.request) {
            const { everyMs } = dialect.request;
            const words = 'text' in dialect.request ? dialect.request.text : bytesOfHex(dialect.request.bytes);
            const ask = (): void => connection.send(words);
            ask();
            timers.push(setInterval(ask, everyMs));
          }
          if (!this.running) connection.close();
        })
        .catch(reject);
    });
  }

  private took({ volts, amps, seconds }: MeterValues, arrived: number): void {
    // No bench measures that: the line was not what it seems.
    if (Math.abs(volts) > absurdAbove.voltage || Math.abs(amps) > absurdAbove.current) {
      this.wrongBefore++;
      return;
    }
    const rateHz = 'rateHz' in this.dialect ? this.dialect.rateHz : null;
    const stamp = seconds ?? (rateHz === null ? null : this.values / rateHz);
    this.values++;
    const at = stamp === null ? arrived : this.clock.map(stamp, arrived);
    this.reporter.took({ t: at, v: volts, i: amps });
  }
}
