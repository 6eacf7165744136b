import { randomUUID } from 'node:crypto';
import { appendFile, mkdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { KeeperRefusal, type BenchEvent, type Keeper } from './keeper.ts';

/** Events that are kept in memory while neither disk nor record takes them. */
const maxHeld = 1000;

/**
 * What was done to instruments, on its way into the audit trail: told at once where the record can be reached, kept on
 * disk and told later where not. Order is kept, and nothing stands there twice.
 */
export class Journal {
  private readonly path: string;
  private waiting: BenchEvent[] = [];
  private telling: Promise<void> = Promise.resolve();

  constructor(
    private readonly folder: string,
    private readonly keeper: Keeper,
    private readonly wall: () => Date,
    private readonly isOpen: () => boolean,
  ) {
    this.path = join(folder, 'events.ndjson');
  }

  note(what: string, jobId: number | null, person: number | null, detail: object): void {
    const event = { key: randomUUID(), jobId, person, what, detail, at: this.wall().toISOString() };
    this.waiting.push(event);
    if (this.waiting.length > maxHeld) this.waiting.shift();
    this.inTurn(() => this.tellAll());
  }

  /** Tells what waited on disk; to be called when the record is there again. */
  async handOver(): Promise<void> {
    this.inTurn(async () => {
      this.waiting = [...(await this.onDisk()), ...this.waiting];
      await this.tellAll();
    });
    await this.telling;
  }

  /** Waits until what was noted so far is told or on disk. */
  settled(): Promise<void> {
    return this.telling;
  }

  private inTurn(work: () => Promise<void>): void {
    this.telling = this.telling.then(work).catch(() => undefined);
  }

  private async onDisk(): Promise<BenchEvent[]> {
    const text = await readFile(this.path, 'utf8').catch(() => '');
    return text.split('\n').flatMap((line) => {
      try {
        return line === '' ? [] : [JSON.parse(line) as BenchEvent];
      } catch {
        return [];
      }
    });
  }

  private async tellAll(): Promise<void> {
    while (this.waiting.length > 0) {
      const [event] = this.waiting;
      try {
        if (!this.isOpen()) throw new Error('the record is away');
        await this.keeper.event(event);
      } catch (error) {
        if (!(error instanceof KeeperRefusal)) return this.keep();
      }
      this.waiting.shift();
    }
    await rm(this.path, { force: true });
  }

  private async keep(): Promise<void> {
    const lines = this.waiting.map((e) => `${JSON.stringify(e)}\n`).join('');
    await mkdir(this.folder, { recursive: true });
    await appendFile(this.path, lines, { mode: 0o600 });
    this.waiting = [];
  }
}
