import type { Guard } from '../watchdog/guard.ts';
import type { Clocks } from '../clock.ts';
import { type Backend } from './backend.ts';
import type { LinkState } from './database-link.ts';
import { type Disk } from './disk.ts';
import { type RosterSources } from './roster.ts';
import type { InstrumentSpec } from '../instrument/spec.ts';
import type { StationContext } from './station-state.ts';

export interface RecorderOptions extends Partial<RosterSources> {
  /** Where the record is kept: the address of a database, or a way to a server. */
  record: string | Backend;
  token: string;
  /** Of the control channel; 0 for any free one, null for none. */
  port: number | null;
  /** What outlives a database that is away, and this process: instruments as they were last known, samples, events. */
  folder: string;
  /** Who switches off when this process dies; null where nobody does, for tests of the rest. */
  guard?: Guard | null;
  /** Wraps work on what an instrument sent ({@link HangWatch.during}). */
  during?: StationContext['during'];
  /** In the place of the clock of this computer. */
  clock?: Pick<StationContext, 'now' | 'wall'>;
  /** In the place of those by which it is known that the computer slept. */
  clocks?: Clocks;
  /** In the place of those in the database. */
  instruments?: InstrumentSpec[];
}

/** What this recorder can speak, and what of the settings it could not use. */
export interface BenchSettings {
  instruments: InstrumentSpec[];
  /** `unit` is the usual address on a bus; null for what is never on one. */
  dialects: { id: string; name: string; kind: InstrumentSpec['kind']; bauds: number[]; unit: number | null }[];
  problems: string[];
}

/** How the recorder itself is. */
export interface RecorderHealth {
  database: LinkState;
  why: string;
  /** Recordings that wait on disk for the database. */
  waiting: number;
  disk: Disk | null;
  watchdog: boolean;
  problems: string[];
}
