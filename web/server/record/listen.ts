import { Client } from 'pg';
import { log } from './errors.ts';

type Listener = (payload: string) => void;

/** Notices from the database, on one connection a process that is made again whenever it breaks. */
class Notices {
  private readonly listeners = new Map<string, Set<Listener>>();
  private client: Client | null = null;
  private connecting = false;
  private asking: Promise<void> = Promise.resolve();
  private pauseMs = 250;

  /**
   * Hears what is told on a channel from now on.
   *
   * @param listener given an empty text after a connection that broke is there again: something may have been missed
   * @returns a way to stop hearing
   */
  hear(channel: string, listener: Listener): () => void {
    const known = this.listeners.get(channel);
    const set = known ?? new Set();
    set.add(listener);
    this.listeners.set(channel, set);
    if (!known) void this.query(`LISTEN ${channel}`);
    if (!this.client) void this.connect();
    return () => set.delete(listener);
  }

  /** Waits until what is told from now on is heard; after a while goes on all the same. */
  async ready(): Promise<void> {
    void this.connect();
    for (let waited = 0; !this.client && waited < 3000; waited += 25)
      await new Promise((resolve) => setTimeout(resolve, 25));
    // What was asked for on this connection before is done before this.
    await this.query('SELECT 1');
  }

  /** One question after the other; one that fails breaks the connection, which is made again. */
  private query(text: string): Promise<void> {
    const next = this.asking.then(async () => void (await this.client?.query(text)));
    this.asking = next.catch(() => undefined);
    return this.asking;
  }

  private async connect(): Promise<void> {
    if (this.connecting || this.client) return;
    this.connecting = true;
    const client = new Client({
      // A pool between us and the database may hand this connection to somebody else: it can be given its own way.
      connectionString: process.env.DATABASE_DIRECT_URL ?? process.env.DATABASE_URL,
      application_name: 'umbral web',
      keepAlive: true,
    });
    const lost = (): void => {
      if (this.client !== client && !this.connecting) return;
      this.client = null;
      this.connecting = false;
      setTimeout(() => void this.connect(), this.pauseMs).unref();
      this.pauseMs = Math.min(5000, 2 * this.pauseMs);
    };
    client.on('error', lost);
    client.on('end', lost);
    client.on('notification', ({ channel, payload }) => this.tell(channel, payload ?? ''));
    try {
      await client.connect();
      for (const channel of this.listeners.keys()) await client.query(`LISTEN ${channel}`);
      this.client = client;
      this.connecting = false;
      this.pauseMs = 250;
      for (const channel of this.listeners.keys()) this.tell(channel, '');
    } catch (error) {
      log.warn({ problem: String(error) }, 'no notices from the database');
      client.removeAllListeners();
      client.on('error', () => undefined);
      void client.end().catch(() => undefined);
      lost();
    }
  }

  private tell(channel: string, payload: string): void {
    for (const listener of this.listeners.get(channel) ?? []) listener(payload);
  }
}

declare global {
  // Routes and actions are bundled apart; they share one process.
  var umbralNotices: Notices | undefined;
}

/** The notices of this process. */
export function jobNotices(): Pick<Notices, 'hear' | 'ready'> {
  return (globalThis.umbralNotices ??= new Notices());
}
