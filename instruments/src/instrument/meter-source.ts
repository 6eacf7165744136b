import { Pauses } from '../transport/index.ts';
import { lineReader, type LineDialect } from '../dialect/index.ts';
import type { Connection, Transport } from '../transport/index.ts';
import { ClockMap } from './clock.ts';
import { Pause, reachPauses, SampleReporter, type Source, type SourceEvents } from './source.ts';

const quietS = 2;

/**
 * Listens to a meter that sends lines by itself. Lines that are no measurement are left out and counted; a meter that
 * falls silent is connected anew.
 */
export class MeterSource implements Source {
  private running = false;
  private done: Promise<void> = Promise.resolve();
  private readonly pause = new Pause();
  private connection: Connection | null = null;
  private readonly reporter: SampleReporter;
  private clock = new ClockMap();
  private lines = 0;
  /** Lines that were no measurement. */
  wrong = 0;

  constructor(
    private readonly transport: Transport,
    private readonly dialect: LineDialect,
    private readonly events: SourceEvents,
    private readonly options: { now: () => number; pauses?: Pauses },
  ) {
    this.reporter = new SampleReporter(events);
  }

  start(): void {
    if (this.running) return;
    this.running = true;
    this.done = this.go();
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
    const read = lineReader(this.dialect);
    const { now } = this.options;
    this.clock = new ClockMap();
    this.lines = 0;
    let lastLine = now();
    await new Promise<void>((resolve, reject) => {
      let watch: NodeJS.Timeout | undefined;
      this.transport
        .connect({
          line: (line) => {
            lastLine = now();
            const found = read(line);
            if (!found) {
              this.wrong++;
              return;
            }
            heard();
            this.took(found, lastLine);
          },
          closed: (reason) => {
            clearInterval(watch);
            this.connection = null;
            if (reason === null) resolve();
            else reject(new Error(`${this.transport.where}: ${reason}`));
          },
        })
        .then(async (connection) => {
          this.connection = connection;
          await this.events.connected?.(this.dialect.name);
          watch = setInterval(() => {
            if (now() - lastLine < quietS) return;
            this.reporter.say('lost', `${this.transport.where}: silent for ${quietS} s`);
            connection.close();
          }, 250);
          if (!this.running) connection.close();
        })
        .catch(reject);
    });
  }

  private took(
    { volts, amps, seconds }: { volts: number; amps: number; seconds: number | null },
    arrived: number,
  ): void {
    const { rateHz } = this.dialect;
    const stamp = seconds ?? (rateHz === null ? null : this.lines / rateHz);
    this.lines++;
    const at = stamp === null ? arrived : this.clock.map(stamp, arrived);
    this.reporter.took({ t: at, v: volts, i: amps });
  }
}
