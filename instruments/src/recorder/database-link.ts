import { Pauses } from '../transport/index.ts';
import { Client } from 'pg';
import { Pause } from '../instrument/index.ts';

/** Keeps two recorders of one database apart. */
const lockKey = 471_400_001;

const connectTimeoutMs = 3000;
const askEveryMs = 1000;
const answerTimeoutMs = 3000;

/** How the record stands: away, ours to write, or held by another. */
export type LinkState = 'away' | 'ours' | 'held by another';

export interface LinkEvents {
  /** The lock is ours from now on; what throws here is tried again with the connection. */
  gained(): Promise<void>;
  lost(state: LinkState, why: string): void;
}

/**
 * Holds the database's lock on commanding instruments, on a connection of its own that is asked every second. After a
 * restart of the database the lock is taken again; while it is not ours nothing may be armed.
 */
export class DatabaseLink {
  private client: Client | null = null;
  private readonly pause = new Pause();
  private running = false;
  private done: Promise<void> = Promise.resolve();
  private tried: (() => void) | null = null;
  state: LinkState = 'away';
  why = 'not asked yet';

  constructor(
    private readonly url: string,
    private readonly events: LinkEvents,
    private readonly pauses = new Pauses({ min: 500, max: 5000 }),
  ) {}

  /** Resolves after the first attempt, whatever came of it. */
  start(): Promise<void> {
    this.running = true;
    const first = new Promise<void>((resolve) => (this.tried = resolve));
    this.done = this.go();
    return first;
  }

  async stop(): Promise<void> {
    this.running = false;
    this.pause.cut();
    await this.done;
  }

  private async go(): Promise<void> {
    while (this.running) {
      try {
        await this.hold();
      } catch (error) {
        this.now(this.state === 'held by another' ? this.state : 'away', messageOf(error));
      }
      this.tried?.();
      if (this.running) await this.pause.wait(this.pauses.next());
    }
  }

  private now(state: LinkState, why: string): void {
    const was = this.state;
    [this.state, this.why] = [state, why];
    if (was === 'ours' || was !== state) this.events.lost(state, why);
  }

  /** Takes the lock and stays with it until it is lost or we stop. */
  private async hold(): Promise<void> {
    const client = new Client({
      connectionString: this.url,
      connectionTimeoutMillis: connectTimeoutMs,
      query_timeout: answerTimeoutMs,
      keepAlive: true,
      application_name: 'umbral recorder',
    });
    let broken: Error | null = null;
    client.on('error', (error) => {
      broken = error;
      this.pause.cut();
    });
    client.on('end', () => {
      broken ??= new Error('the connection ended');
      this.pause.cut();
    });
    try {
      this.state = this.state === 'ours' ? 'away' : this.state;
      await client.connect();
      const { rows } = await client.query<{ mine: boolean }>('SELECT pg_try_advisory_lock($1) AS mine', [lockKey]);
      if (!rows[0].mine) {
        this.now('held by another', 'another recorder already uses this database');
        return;
      }
      this.client = client;
      await this.events.gained();
      [this.state, this.why] = ['ours', ''];
      this.pauses.reset();
      this.tried?.();
      while (this.running && broken === null) {
        await this.pause.wait(askEveryMs);
        if (broken === null && this.running) await client.query('SELECT 1');
      }
      if (broken !== null) throw broken as Error;
    } finally {
      if (this.running && this.client === client) this.now('away', 'the connection ended');
      this.client = null;
      await client.end().catch(() => undefined);
    }
  }
}

const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
