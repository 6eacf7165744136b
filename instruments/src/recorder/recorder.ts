import { isDeepStrictEqual } from 'node:util';
import knex, { type Knex } from 'knex';
import { ControlServer } from './control.ts';
import { markInterrupted } from './recording.ts';
import { loadRoster, type Roster, type RosterSources } from './roster.ts';
import type { InstrumentSpec } from './spec.ts';
import { Station, type StationContext } from './station.ts';

/** Keeps two recorders of one database apart. */
const lockKey = 471_400_001;

export interface RecorderOptions extends Partial<RosterSources> {
  databaseUrl: string;
  token: string;
  /** 0 for any free one. */
  port: number;
  /** In the place of those in the database. */
  instruments?: InstrumentSpec[];
}

/** What this recorder can speak, and what of the settings it could not use. */
export interface BenchSettings {
  instruments: InstrumentSpec[];
  dialects: { id: string; name: string; kind: InstrumentSpec['kind'] }[];
  problems: string[];
}

interface Placed {
  station: Station;
  /** As it was described when the station was made: where it is and what it speaks. */
  made: unknown;
}

/** Everything that one recorder process does. */
export class Recorder {
  private readonly db: Knex;
  private readonly lock: Knex;
  private readonly placed = new Map<string, Placed>();
  private readonly stations = new Map<string, Station>();
  private readonly control: ControlServer;
  private readonly clock: Pick<StationContext, 'now' | 'wall'>;
  private settings: BenchSettings = { instruments: [], dialects: [], problems: [] };
  private reloading: Promise<unknown> = Promise.resolve();
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
    this.control = new ControlServer(this.stations, options.token, {
      settings: () => this.settings,
      reload: () => this.reload(),
    });
    const began = Date.now() - performance.now();
    this.clock = { now: () => performance.now() / 1000, wall: () => new Date(began + performance.now()) };
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
    await this.reload();
    return this.control.listen(this.options.port);
  }

  /** Outputs off, recordings written, everything closed. */
  async stop(giveUp?: AbortSignal): Promise<void> {
    await this.reloading;
    await Promise.all([...this.stations.values()].map((s) => s.stop(giveUp)));
    await this.control.close();
    await Promise.all([this.db.destroy(), this.lock.destroy()]);
  }

  /**
   * Takes the settings as they are now. What did not change goes on undisturbed; an instrument that records or has its
   * output armed keeps its old description until it is free and the settings are read again.
   */
  reload(): Promise<BenchSettings> {
    const next = this.reloading.then(() => this.place());
    this.reloading = next.catch(() => undefined);
    return next;
  }

  private async place(): Promise<BenchSettings> {
    const { simulated = null, dialectFolder = null, instruments } = this.options;
    const roster = await loadRoster(this.db, { simulated, dialectFolder });
    const specs = instruments ?? roster.instruments;
    const problems = [...roster.problems];
    for (const [key, { station }] of this.placed) {
      if (specs.some((s) => s.key === key)) continue;
      if (station.isBusy) problems.push(`${station.spec.name} is in use; it goes when it is free.`);
      else await this.take(key);
    }
    for (const spec of specs) await this.put(spec, roster, problems);
    this.inOrder(specs.map((s) => s.key));
    const { scpi, lines } = roster.dialects;
    const dialects = [
      ...[...scpi.values()].map(({ id, name }) => ({ id, name, kind: 'supply' as const })),
      ...[...lines.values()].map(({ id, name }) => ({ id, name, kind: 'meter' as const })),
    ];
    this.settings = { instruments: roster.described, dialects, problems };
    this.control.changed();
    return this.settings;
  }

  private async take(key: string): Promise<void> {
    const placed = this.placed.get(key);
    this.placed.delete(key);
    this.stations.delete(key);
    await placed?.station.stop(AbortSignal.timeout(5000));
  }

  private async put(spec: InstrumentSpec, roster: Roster, problems: string[]): Promise<void> {
    const { name, calibration, ...where } = spec;
    const speaks = roster.dialects[spec.kind === 'supply' ? 'scpi' : 'lines'].get(spec.dialect);
    const made = { where, speaks };
    const was = this.placed.get(spec.key);
    if (was && isDeepStrictEqual(was.made, made)) return was.station.describe({ name, calibration });
    if (was?.station.isBusy) {
      problems.push(`${was.station.spec.name} is in use; its new settings wait until it is free.`);
      return;
    }
    if (was) await this.take(spec.key);
    try {
      const context = { db: this.db, ...this.clock, changed: this.control.changed, dialects: roster.dialects };
      const station = new Station(spec, context);
      this.placed.set(spec.key, { station, made });
      this.stations.set(spec.key, station);
      station.start();
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      problems.push(error.message);
    }
  }

  /** The order of the settings, whatever came and went. */
  private inOrder(keys: string[]): void {
    for (const key of keys) {
      const station = this.stations.get(key);
      if (!station) continue;
      this.stations.delete(key);
      this.stations.set(key, station);
    }
  }
}
