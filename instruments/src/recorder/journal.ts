import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { diskFiles, type Files } from '../store/files.ts';
import { KeeperRefusal, type BenchEvent, type Keeper } from '../store/keeper.ts';

/** Events that are kept in memory while neither disk nor record takes them. */
const maxHeld = 1000;

/**
 * What was done to instruments, on its way into the audit trail: told at once where the record can be reached, kept on
 * disk and told later where not. Order is kept, nothing stands there twice, and what is on disk stays there until all of it
 * is told.
 */
export class Journal {
  private readonly path: string;
  /** In order, the oldest first; the first of them may be on disk as well. */
  private waiting: BenchEvent[] = [];
  private onDisk = 0;
  private telling: Promise<void>;

  constructor(
    folder: string,
    private readonly keeper: Keeper,
    private readonly wall: () => Date,
    private readonly isOpen: () => boolean,
    private readonly files: Files = diskFiles,
  ) {
    this.path = join(folder, 'events.ndjson');
    // What an earlier recorder left comes before anything new.
    this.telling = this.load().catch(() => undefined);
  }

  note(what: string, jobId: number | null, person: number | null, detail: object): void {
    this.take({ key: randomUUID(), jobId, person, what, detail, at: this.wall().toISOString() });
  }

  /** Takes an event that happened while nobody could note it. */
  take(event: BenchEvent): void {
    this.inTurn(async () => {
      this.waiting.push(event);
      if (this.waiting.length - this.onDisk > maxHeld) this.waiting.splice(this.onDisk, 1);
      await this.tellAll();
    });
  }

  /** Tells what waited; to be called when the record is there again. */
  async handOver(): Promise<void> {
    this.inTurn(() => this.tellAll());
    await this.telling;
  }

  /** Waits until what was noted so far is told or on disk. */
  settled(): Promise<void> {
    return this.telling;
  }

  private inTurn(work: () => Promise<void>): void {
    this.telling = this.telling.then(work).catch(() => undefined);
  }

  private async load(): Promise<void> {
    for await (const line of this.files.lines(this.path)) {
      const event = eventOf(line);
      if (event) this.waiting.push(event);
    }
    this.onDisk = this.waiting.length;
  }

  private async tellAll(): Promise<void> {
    while (this.waiting.length > 0) {
      const [event] = this.waiting;
      try {
        if (!this.isOpen()) throw new Error('the event log is not available');
        await this.keeper.event(event);
      } catch (error) {
        if (!(error instanceof KeeperRefusal)) return this.keep();
      }
      this.waiting.shift();
      this.onDisk = Math.max(0, this.onDisk - 1);
    }
    await this.files.remove(this.path);
  }

  /** What is not on disk yet goes there; told again later, it is known by its key. */
  private async keep(): Promise<void> {
    const fresh = this.waiting.slice(this.onDisk);
    if (fresh.length === 0) return;
    await this.files.append(this.path, `\n${fresh.map((e) => JSON.stringify(e)).join('\n')}\n`);
    this.onDisk = this.waiting.length;
  }
}

/** An event of a line; null for one that a crash cut short. */
function eventOf(line: string): BenchEvent | null {
  try {
    const read = JSON.parse(line) as BenchEvent | null;
    return typeof read?.key === 'string' ? read : null;
  } catch {
    return null;
  }
}
