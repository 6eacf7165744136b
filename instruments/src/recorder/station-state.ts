import type { Dialect, MeterReading } from '../dialect/index.ts';
import type { Health, LiveSample, SelfWatch } from '../instrument/index.ts';
import type { OutlineState } from '../store/outline.ts';
import type { SampleBlock } from '../store/samples.ts';
import type { Spool } from '../store/spool.ts';
import type { Keeper } from '../store/keeper.ts';
import type { InstrumentSpec } from '../instrument/spec.ts';

/** An output that is armed, as everybody may see it. */
export interface Armed {
  /** Of this arming: a window knows by it whether the arming is its own. */
  id: string;
  volts: number;
  limitA: number;
  /** Why less was armed than was asked for; empty where nothing was cut. */
  clamped: string;
  /** For whom: the job whose device is on the leads, and who is signed in. */
  jobId: number | null;
  person: number | null;
  /** What the supply does when nothing here can switch it off any more. */
  watchesItself: SelfWatch;
}

/** The same for the window that armed it: with the key that switches it on and keeps it on. */
export interface ArmedHere extends Armed {
  key: string;
}

export interface StationState {
  key: string;
  name: string;
  kind: InstrumentSpec['kind'];
  simulated: boolean;
  /** A camera reads its display. */
  isSeen: boolean;
  /** How a page reaches it that it is plugged into; null where it is reached from here. */
  atPage: Extract<InstrumentSpec['transport'], { kind: 'browser' }> | null;
  health: Health;
  why: string;
  /** Corrected for the calibration. */
  volts: number | null;
  amps: number | null;
  /** As the instrument shows it, before the correction. */
  shown: { volts: number; amps: number } | null;
  /** Smallest steps that it shows. */
  resolutionV: number;
  resolutionA: number;
  /** What a multimeter shows, and whether it stands still; null for any other instrument, or while it shows nothing. */
  reading: (MeterReading & { isStable: boolean }) | null;
  mode: 'cv' | 'cc' | 'off' | null;
  rateHz: number;
  armed: Armed | null;
  /** As the instrument says; null where nobody asked it yet. */
  outputOn: boolean | null;
  /** Contact was lost while it was on: it may still be on, and nothing here can switch it off. */
  outputUnknown: boolean;
  /** Its make can be told to switch off by itself when nobody speaks to it; null for a meter. */
  canWatchItself: boolean | null;
  recording: {
    id: number;
    jobId: number;
    startedAt: string;
    rows: number;
    seconds: number;
    /** When it ends by itself, seconds since it began; null for by hand. */
    stopAfterS: number | null;
    problem: string | null;
  } | null;
  /** The recording that ended last, for a page that did not end it itself. */
  ended: { id: number; jobId: number; why: 'by hand' | 'by its time' } | null;
}

export interface StationContext {
  keeper: Keeper;
  spool: Spool;
  networks: readonly string[];
  /** Why nothing may be armed or recorded now, in words; null where it may. */
  refusal: () => string | null;
  /** Outputs that may be on have changed: told before one is switched on, and after it is read back as off. */
  mayBeOn: () => void;
  /** A recording ended on disk: it waits for the record. */
  leftOnDisk: () => void;
  /** What was done, for the audit trail. */
  note: (what: string, detail: object, of: { jobId: number | null; person: number | null }) => void;
  /** Our clock, seconds, never going back; and the same as a date. */
  now: () => number;
  /** Seconds of ours that pass in a second of the wall's. */
  factor: number;
  wall: () => Date;
  dialects: ReadonlyMap<string, Dialect>;
  /** Wraps work on what an instrument sent, so that a hang is known by its name. */
  during?: <T>(key: string, work: () => T) => T;
  /** Something changed that others should see. */
  changed: () => void;
}

/** What an instrument showed over a while: mean and standard deviation. Volts, amperes. */
export interface Averaged {
  readings: number;
  volts: { mean: number; spread: number };
  amps: { mean: number; spread: number };
}

/** How a recording went on since a row, for whoever watches: the samples, or the outline where some are forgotten. */
export type WentOn = { rows: number } & ({ samples: SampleBlock } | { outline: OutlineState });

/** What an instrument is, and what it shows: as it stands there, and corrected for its calibration. */
export function shownBy(
  spec: InstrumentSpec,
  last: LiveSample | null,
): Pick<StationState, 'key' | 'name' | 'kind' | 'simulated' | 'volts' | 'amps' | 'shown'> {
  const { key, name, kind, simulated, calibration } = spec;
  const { gainV, offsetV, gainA, offsetA } = calibration;
  return {
    key,
    name,
    kind,
    simulated,
    volts: last ? (last.v - offsetV) / gainV : null,
    amps: last ? (last.i - offsetA) / gainA : null,
    shown: last && { volts: last.v, amps: last.i },
  };
}
