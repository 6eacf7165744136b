import type { Feed } from '../catalogue/index.ts';
import type { Instrument, Marker, RunQuantity } from '../trace/index.ts';
import type { ActionKind, CircuitId, ComplaintKind, DeviceClass, OutcomeGrade } from '../catalogue/index.ts';
import type { ActionNotes } from './action-notes.ts';
import type { ValuesOf } from './record.ts';
import type { checkFields, injectionFields, proofFields, readingFields } from './records.ts';

/** Keys of a package that Umbral does not know: kept and written back. */
export type Extra = Record<string, unknown>;

/** What every entry may bear beside what it says. */
interface Entered {
  extra?: Extra;
  /** When it was done, ISO 8601: orders entries of one state of the device. Left out where nobody said. */
  at?: string;
  /** It was entered and counts for nothing, with the reason. Left out for what counts. */
  void?: { why: string };
}

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
  /** What the main system rail of this unit should carry, where the class does not tell. */
  mainV?: number;
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
  /** The swollen or hot pack has been taken out and put away. */
  batteryIsolated: boolean;
  dataWanted: boolean;
  notes: string;
  /**
   * Remarks in the customer's words that somebody has looked at and let stand, by id. Left out where nobody has: then the words
   * of the complaint are read.
   */
  heard?: readonly string[];
}

export const batteryStates = ['connected', 'disconnected', 'absent', 'known-good'] as const;
export const displayStates = ['connected', 'disconnected', 'known-good'] as const;
export const assemblies = ['assembled', 'board-alone', 'half'] as const;
export const deviceStates = ['off', 'asleep', 'running', 'unknown'] as const;
export const chargers = ['own', 'known-good', 'unknown'] as const;
export const boards = ['own', 'known-good'] as const;

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
  /** The main board that was in it; left out for the device's own. */
  board?: (typeof boards)[number];
  temperatureC: number | null;
}

/** Which things a check was made with, where that was said. */
export type CheckSetup = Partial<Pick<Setup, 'battery' | 'display' | 'charger' | 'board'>>;

export interface Run extends Entered {
  id: string;
  /** Path of the samples inside the package, or null for a typed run. */
  file: string | null;
  typed: string | null;
  feed: Feed;
  quantity: RunQuantity;
  instrument: Instrument & { extra?: Extra };
  setup: Setup;
  markers: (Marker & { extra?: Extra })[];
  /** What the meter's decoder said was agreed; null where nobody read it. */
  contract: Contract | null;
  /** Id of the action that this run follows. */
  after: string | null;
}

export const contractKinds = ['none', 'default-5v', 'pd'] as const;

/** What a USB-C meter decoded: nothing, the 5 V that every port gives, or an offer that was accepted. Volts, amperes. */
export interface Contract {
  kind: (typeof contractKinds)[number];
  volts: number | null;
  amps: number | null;
}

/** An outcome that was looked at. */
export interface Check extends Entered, ValuesOf<typeof checkFields> {
  setup?: CheckSetup;
}

export interface Reading extends Entered, ValuesOf<typeof readingFields> {}

export interface Injection extends Entered, ValuesOf<typeof injectionFields> {}

export interface Proof extends Entered, ValuesOf<typeof proofFields> {}

export interface Action extends ActionNotes, Entered {
  id: string;
  kind: ActionKind;
  circuit: CircuitId | null;
  target: string;
  note: string;
  /** Id of the run that shows the state before it. */
  runBefore: string | null;
  /** Id of the action that this one takes back. */
  undoes: string | null;
  /** Meant to be done, and not done yet: it counts for nothing. */
  planned?: true;
  /** The device changed by itself: no person did anything. Only inside the engine, where a history is split into states. */
  byItself?: true;
}

/** What was found out of a place after something was entered at it. */
export interface PlaceName {
  where: string;
  /** Null where nobody said it. */
  circuit: CircuitId | null;
  /** Other names of the same place, as somebody said. */
  same?: readonly string[];
  /** Places of one number are on one net. */
  net?: number;
}

export interface Outcome {
  extra?: Extra;
  grade: OutcomeGrade;
  circuit: CircuitId | null;
  target: string;
  fix: string;
}

/** A case as the engine sees it: a history. Each list stands in the order in which things happened. */
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
  injections: Injection[];
  actions: Action[];
  proofs: Proof[];
  /** Circuits of places, as they were found out later. A later name of a place replaces an earlier one. */
  places: PlaceName[];
  outcome: Outcome | null;
}
