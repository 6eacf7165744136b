import { mkdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { kindOf } from '../dialect/index.ts';
import { benchClock, ownClocks, sleepOf, wallOf } from '../clock.ts';
import { takeLock, type Lock } from '../../plain/lock.cjs';
import { writeWhole } from '../../plain/write-whole.cjs';
import { Spool } from '../store/spool.ts';
import { DatabaseBackend, type Backend, type Link } from './backend.ts';
import { ControlServer } from './control.ts';
import type { LinkState } from './database-link.ts';
import { DiskWatch } from './disk.ts';
import { KeeperRefusal } from '../store/keeper.ts';
import { tellDeeds } from '../watchdog/deeds.ts';
import { Journal } from './journal.ts';
import { Finder } from './finder.ts';
import { LeftOut } from './left-out.ts';
import { handOverSpool } from './recording.ts';
import policy from './policy.json';
import { rosterOf, type KeptBench, type Roster } from './roster.ts';
import type { InstrumentSpec } from '../instrument/spec.ts';
import { Station } from './station.ts';
import type { StationContext } from './station-state.ts';
import { type RecorderOptions, type BenchSettings, type RecorderHealth } from './recorder-options.ts';

interface Placed {
  station: Station;
  /** As it was described when the station was made: where it is and what it speaks. */
  made: unknown;
}

/**
 * Everything that one recorder process does. It reaches its supplies, and switches them off, before it asks for the
 * database; it arms and records only while the database's lock is its own.
 */
export class Recorder {
  private readonly backend: Backend;
  private readonly spool: Spool;
  private readonly journal: Journal;
  private readonly link: Link;
  private readonly disk: DiskWatch;
  private leftOut!: LeftOut;
  private readonly placed = new Map<string, Placed>();
  private readonly stations = new Map<string, Station>();
  /** What can be asked of this recorder, and what it tells. */
  readonly control: ControlServer;
  private readonly clock: Pick<StationContext, 'now' | 'wall' | 'factor'>;
  private settings: BenchSettings = { instruments: [], dialects: [], problems: [] };
  private roster: Pick<Roster, 'dialects' | 'networks'> = { dialects: new Map(), networks: [] };
  private reloading: Promise<unknown> = Promise.resolve();
  private telling: Promise<void> = Promise.resolve();
  private lock: Lock | null = null;
  private refused: string[] = [];
  private waiting = 0;
  private hasMarked = false;
  private readonly slept: () => number;
  /** Recordings of an earlier recorder that broke off. */
  interrupted: number[] = [];

  constructor(private readonly options: RecorderOptions) {
    const { record, folder } = options;
    this.backend = typeof record === 'string' ? new DatabaseBackend(record) : record;
    const clocks = options.clocks ?? ownClocks;
    this.clock = options.clock ? { factor: 1, ...options.clock } : { ...benchClock(), wall: wallOf(clocks) };
    this.slept = sleepOf(clocks, policy.heartbeatS);
    this.spool = new Spool(join(folder, 'spool'));
    this.link = this.backend.link({ gained: () => this.gained(), lost: (state) => this.lost(state) });
    this.journal = new Journal(folder, this.backend.keeper, this.clock.wall, () => this.link.state === 'ours');
    this.disk = new DiskWatch(folder, () => this.control.changed());
    this.control = new ControlServer(this.stations, options.token, {
      settings: () => this.settings,
      reload: () => this.reload(),
      health: () => this.health,
      watch: () => this.watchSleep(),
      finder: new Finder(this.stations, () => this.roster, options.dialectFolder ?? null, options.simulated?.others),
    });
  }

  /**
   * Begins to measure and to listen.
   *
   * @returns the port of the control channel
   * @throws {Error} where another recorder already uses this folder or on this database
   */
  async start(): Promise<number> {
    await mkdir(this.options.folder, { recursive: true, mode: 0o700 });
    this.lock = await takeLock('recorder', this.options.folder);
    if (!this.lock.isMine) {
      const who = this.lock.holder ? `, process ${this.lock.holder.pid}` : '';
      throw new Error(`another recorder already uses ${this.options.folder}${who}`);
    }
    this.leftOut = new LeftOut(this.options.folder);
    await this.place(await this.lastKnown());
    this.disk.start();
    await this.link.start();
    if (this.link.state === 'held by another') {
      const { why } = this.link;
      await this.stop();
      throw new Error(why);
    }
    this.control.begin();
    return this.options.port === null ? 0 : this.control.listen(this.options.port);
  }

  /** Outputs off, recordings written, everything closed. */
  async stop(giveUp?: AbortSignal): Promise<void> {
    await this.reloading;
    await Promise.all([...this.stations.values()].map((s) => s.stop(giveUp)));
    await this.journal.settled();
    if (this.watched().length === 0) this.options.guard?.stop();
    this.disk.stop();
    await this.control.close();
    await this.link.stop();
    await this.backend.close();
    if (this.lock?.isMine) await this.lock.release();
  }

  get health(): RecorderHealth {
    const { state, why } = this.link;
    return {
      database: state,
      why,
      waiting: this.waiting,
      disk: this.disk.now,
      watchdog: this.options.guard === undefined || this.options.guard === null || this.options.guard.isThere,
      problems: [...this.settings.problems, ...this.refused],
    };
  }

  private get recordName(): string {
    return typeof this.options.record === 'string' ? 'database' : 'server';
  }

  private refusal(): string | null {
    if (this.link.state === 'held by another') return 'Another recorder controls the instruments here.';
    if (this.link.state === 'away')
      return `The ${this.recordName} is not available. Nothing can be armed or recorded until it is back. Retrying.`;
    if (!this.health.watchdog) return 'The emergency watchdog is starting. Try again in a second.';
    return null;
  }

  private watched() {
    return [...this.stations.values()].flatMap((s) => s.watched ?? []);
  }

  private live(): number[] {
    return [...this.stations.values()].flatMap((s) => s.recordingId ?? []);
  }

  /** The lock is ours: what waited is handed over, and the settings are read. */
  private async gained(): Promise<void> {
    const { refused } = await handOverSpool(this.spool, this.backend.keeper, () => this.live(), this.clock.wall);
    this.refused.push(...refused.map(({ id, why }) => `Recording ${id} was refused by the database: ${why}`));
    this.waiting = 0;
    if (!this.hasMarked) {
      this.interrupted = await this.backend.endLeft(this.live());
      this.hasMarked = true;
    }
    await this.tellDeeds();
    await this.reload();
    // In turn with what is noted from now on; whether the link is open is asked when it is its turn.
    setImmediate(() => void this.journal.handOver());
    this.control.changed();
  }

  /** What the watchdog did while no recorder ran, or does still, goes into the record with its time. */
  private tellDeeds(): Promise<void> {
    const { guard } = this.options;
    if (!guard || this.link.state !== 'ours') return Promise.resolve();
    const turn = this.telling.then(() =>
      tellDeeds(guard.deeds, async ({ event, recording, problem }) => {
        this.journal.take(event);
        if (recording !== null)
          await this.backend.keeper
            .end(recording, 'interrupted', new Date(event.at), problem)
            .catch((error: unknown) => {
              if (!(error instanceof KeeperRefusal)) throw error;
            });
        await this.journal.settled();
      }),
    );
    this.telling = turn.catch(() => undefined);
    return this.telling;
  }

  private lost(state: LinkState): void {
    // Somebody watches what is on; what is merely armed waits for the database.
    const why = state === 'held by another' ? 'another recorder controls the instruments now' : null;
    for (const station of this.stations.values()) void station.disarm(why);
    this.control.changed();
  }

  /** Nobody watched while the computer slept: off. What is recorded says how long it heard nothing. */
  private watchSleep(): void {
    void this.tellDeeds();
    const seconds = Math.round(this.slept());
    if (seconds === 0) return;
    const why = `this computer was asleep for ${seconds} s`;
    for (const station of this.stations.values()) {
      void station.disarm(why);
      station.missed(`${why}; everything after this point happened that much later than shown`);
    }
  }

  /** Instruments as they were when the record was last read; none where that never was. */
  private async lastKnown(): Promise<KeptBench> {
    try {
      return JSON.parse(await readFile(this.keptPath, 'utf8')) as KeptBench;
    } catch {
      return { instruments: [], networks: [] };
    }
  }

  private get keptPath(): string {
    return join(this.options.folder, 'instruments.json');
  }

  /**
   * Takes the settings as they are now. What did not change goes on undisturbed; an instrument that records or has its
   * output armed keeps its old description until it is free and the settings are read again.
   */
  reload(): Promise<BenchSettings> {
    const next = this.reloading.then(async () => {
      const kept = await this.backend.loadKept();
      const settings = await this.place(kept);
      try {
        writeWhole(this.keptPath, JSON.stringify(kept));
      } catch (error) {
        settings.problems.push(`The instruments could not be saved on disk: ${(error as Error).message}`);
      }
      return settings;
    });
    this.reloading = next.catch(() => undefined);
    return next;
  }

  private async place(kept: KeptBench): Promise<BenchSettings> {
    const { simulated = null, dialectFolder = null, instruments } = this.options;
    const roster = await rosterOf(kept, { simulated, dialectFolder });
    this.roster = roster;
    const specs = instruments ?? roster.instruments;
    const problems = [...roster.problems];
    for (const [key, { station }] of this.placed) {
      if (specs.some((s) => s.key === key)) continue;
      if (station.isBusy) problems.push(`${station.spec.name} is in use. It will be removed when it is free.`);
      else await this.take(key);
    }
    for (const spec of specs) await this.put(spec, roster, problems);
    this.inOrder(specs.map((s) => s.key));
    const dialects = [...roster.dialects.values()].map((d) => ({
      id: d.id,
      name: d.name,
      kind: kindOf(d),
      bauds: d.bauds,
      unit: d.format === 'umbral-registers/1' ? d.unit : null,
    }));
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
    const speaks = roster.dialects.get(spec.dialect);
    const { networks } = roster;
    const made = { where, speaks, networks };
    const was = this.placed.get(spec.key);
    if (was && isDeepStrictEqual(was.made, made)) return was.station.describe({ name, calibration });
    if (was?.station.isBusy) {
      problems.push(`${was.station.spec.name} is in use. Its new settings apply when it is free.`);
      return;
    }
    if (was) await this.take(spec.key);
    const leftOut = this.leftOut.why(spec.key, name, made);
    if (leftOut !== null) {
      problems.push(leftOut);
      return;
    }
    try {
      const station = new Station(spec, { ...this.context(), dialects: roster.dialects, networks });
      this.placed.set(spec.key, { station, made });
      this.stations.set(spec.key, station);
      station.start();
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      problems.push(error.message);
    }
  }

  private context(): Omit<StationContext, 'dialects' | 'networks'> {
    return {
      keeper: this.backend.keeper,
      spool: this.spool,
      ...this.clock,
      changed: this.control.changed,
      refusal: () => this.refusal(),
      during: this.options.during,
      mayBeOn: () => this.options.guard?.watch(this.watched()),
      note: (what, detail, { jobId, person }) => this.journal.note(what, jobId, person, detail),
      leftOnDisk: () => this.waiting++,
    };
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
