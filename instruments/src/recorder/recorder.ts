import knex, { type Knex } from 'knex';
import { usualLines, usualScpi, type LineDialect, type ScpiDialect } from '../dialect/index.ts';
import { ControlServer } from './control.ts';
import { markInterrupted } from './recording.ts';
import type { InstrumentSpec } from './spec.ts';
import { Station } from './station.ts';

/** Keeps two recorders of one database apart. */
const lockKey = 471_400_001;

export interface RecorderOptions {
  databaseUrl: string;
  token: string;
  /** 0 for any free one. */
  port: number;
  instruments: InstrumentSpec[];
  /** Commands and lines beside those that ship. */
  dialects?: { scpi: ScpiDialect[]; lines: LineDialect[] };
}

/** Everything that one recorder process does. */
export class Recorder {
  private readonly db: Knex;
  private readonly lock: Knex;
  private readonly stations = new Map<string, Station>();
  private readonly control: ControlServer;
  /** Recordings of an earlier recorder that broke off. */
  interrupted: number[] = [];

  constructor(private readonly options: RecorderOptions) {
    const { databaseUrl } = options;
    this.db = knex({
      client: 'pg',
      connection: databaseUrl,
      pool: { min: 0, max: 6 },
      acquireConnectionTimeout: 5000,
    });
    this.lock = knex({ client: 'pg', connection: databaseUrl, pool: { min: 1, max: 1 } });
    this.control = new ControlServer(this.stations, options.token);
    const began = Date.now() - performance.now();
    const context = {
      db: this.db,
      now: () => performance.now() / 1000,
      wall: () => new Date(began + performance.now()),
      changed: this.control.changed,
      dialects: {
        scpi: new Map([usualScpi, ...(options.dialects?.scpi ?? [])].map((d) => [d.id, d])),
        lines: new Map([usualLines, ...(options.dialects?.lines ?? [])].map((d) => [d.id, d])),
      },
    };
    for (const spec of options.instruments) this.stations.set(spec.key, new Station(spec, context));
  }

  /**
   * Begins to measure and to listen.
   *
   * @returns the port of the control channel
   * @throws {Error} where another recorder works on this database
   */
  async start(): Promise<number> {
    const { rows } = (await this.lock.raw('SELECT pg_try_advisory_lock(?) AS mine', [lockKey])) as {
      rows: { mine: boolean }[];
    };
    if (!rows[0].mine) throw new Error('another recorder works on this database already');
    this.interrupted = await markInterrupted(this.db);
    for (const station of this.stations.values()) station.start();
    return this.control.listen(this.options.port);
  }

  /** Outputs off, recordings written, everything closed. */
  async stop(giveUp?: AbortSignal): Promise<void> {
    await Promise.all([...this.stations.values()].map((s) => s.stop(giveUp)));
    await this.control.close();
    await Promise.all([this.db.destroy(), this.lock.destroy()]);
  }
}
