import type { Feed, Instrument, Marker, RunQuantity } from '../trace/index.ts';
import type { ActionKind, CircuitId, ComplaintKind, DeviceClass, OutcomeGrade, RailState, ReadingMode } from './ids.ts';

/** Keys of a package that Umbral does not know: kept and written back. */
export type Extra = Record<string, unknown>;

/** What a healthy unit of this model draws. Amperes at the battery feed at `batteryV`, `chargeA` at the port at `contractV`. */
export interface Expect {
  extra?: Extra;
  quiescentA?: number;
  startPeakA?: number;
  idleA?: number;
  chargeA?: number;
  contractV?: number;
  dcV?: number;
  ports?: number;
  startsWithoutBattery?: boolean;
  /** Starts by itself when a source is connected, without a press. */
  startsOnPower?: boolean;
  batteryV?: number;
}

export interface Device {
  extra?: Extra;
  class: DeviceClass;
  model: string;
  serial: string;
  profile: string | null;
  expect: Expect;
}

export interface Intake {
  extra?: Extra;
  liquid: boolean;
  dropped: boolean;
  priorRepair: boolean;
  batterySwollen: boolean;
  dataWanted: boolean;
  notes: string;
}

export const batteryStates = ['connected', 'disconnected', 'absent'] as const;
export const displayStates = ['connected', 'disconnected', 'known-good'] as const;
export const assemblies = ['assembled', 'board-alone', 'half'] as const;
export const deviceStates = ['off', 'asleep', 'running', 'unknown'] as const;
export const chargers = ['own', 'known-good', 'unknown'] as const;

/** How the device stood when the run was made. Null where nobody said. */
export interface Setup {
  extra?: Extra;
  setV: number | null;
  limitA: number | null;
  port: number | null;
  flipped: boolean;
  battery: (typeof batteryStates)[number] | null;
  display: (typeof displayStates)[number] | null;
  assembly: (typeof assemblies)[number] | null;
  half: string | null;
  unplugged: string[];
  deviceState: (typeof deviceStates)[number] | null;
  batteryV: number | null;
  charger: (typeof chargers)[number] | null;
  temperatureC: number | null;
}

export interface Run {
  extra?: Extra;
  id: string;
  /** Path of the samples inside the package, or null for a typed run. */
  file: string | null;
  typed: string | null;
  feed: Feed;
  quantity: RunQuantity;
  instrument: Instrument & { extra?: Extra };
  setup: Setup;
  markers: (Marker & { extra?: Extra })[];
  /** Id of the action that this run follows. */
  after: string | null;
}

export interface Check {
  extra?: Extra;
  id: string;
  outcome: string | null;
  note: string;
}

export interface Reading {
  extra?: Extra;
  where: string;
  circuit: CircuitId | null;
  state: RailState | null;
  prompted: boolean | null;
  mode: ReadingMode;
  /** Volts or ohms; null where open line. */
  value: number | null;
  unit: 'V' | 'ohm';
  ol: boolean;
  reference: number | null;
  redProbe: 'ground' | 'point' | null;
  powered: boolean | null;
}

export interface Action {
  extra?: Extra;
  id: string;
  kind: ActionKind;
  circuit: CircuitId | null;
  target: string;
  note: string;
  /** Id of the run that shows the state before it. */
  runBefore: string | null;
}

export interface Outcome {
  extra?: Extra;
  grade: OutcomeGrade;
  circuit: CircuitId | null;
  target: string;
  fix: string;
}

/** A case as the engine sees it; `runs`, `checks`, `readings` and `actions` in the order in which they happened. */
export interface Case {
  extra?: Extra;
  id: string;
  device: Device;
  complaint: string;
  complaintKind: ComplaintKind | null;
  intake: Intake;
  runs: Run[];
  checks: Check[];
  readings: Reading[];
  actions: Action[];
  outcome: Outcome | null;
}

export const unknownSetup: Setup = {
  setV: null,
  limitA: null,
  port: null,
  flipped: false,
  battery: null,
  display: null,
  assembly: null,
  half: null,
  unplugged: [],
  deviceState: null,
  batteryV: null,
  charger: null,
  temperatureC: null,
};

export const emptyIntake: Intake = {
  liquid: false,
  dropped: false,
  priorRepair: false,
  batterySwollen: false,
  dataWanted: false,
  notes: '',
};

/** A case of which nothing is known but its device and its runs. */
export function bareCase(device: Pick<Device, 'class'> & Partial<Device>, runs: Run[], id = ''): Case {
  return {
    id,
    device: { model: '', serial: '', profile: null, expect: {}, ...device },
    complaint: '',
    complaintKind: null,
    intake: emptyIntake,
    runs,
    checks: [],
    readings: [],
    actions: [],
    outcome: null,
  };
}

/** What a voltage swings between where the meter does not come to rest; null where it stood still. Volts. */
export function swingOf(reading: Pick<Reading, 'extra'>): { low: number; high: number } | null {
  const swing = reading.extra?.swing as { low?: unknown; high?: unknown } | null | undefined;
  return typeof swing?.low === 'number' && typeof swing.high === 'number' ? { low: swing.low, high: swing.high } : null;
}
