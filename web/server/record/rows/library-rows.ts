import type {
  CircuitId,
  DeviceClass,
  Feed,
  OutcomeGrade,
  PatternId,
  Recalibration,
  SignatureSetup,
} from '@umbral/core';

/** Rows of what the shop has learned. A column is here as it is in the database, which `tables.test.ts` holds against the migrations. */

export interface ConfirmationRow {
  id: number;
  job_id: number;
  grade: OutcomeGrade;
  circuit: CircuitId;
  target: string;
  why: string;
  withdrawn_at: Date | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface KnownShopRow {
  fingerprint: string;
  public_key: string;
  name: string;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface LibraryRow {
  id: number;
  shop: string;
  licence: string;
  fingerprint: string;
  sha256: string;
  made_at: Date;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

/** A row of a library that was removed, as it was. */
export interface RemovedRow {
  library_id: number;
  table: string;
  row: Record<string, unknown>;
  removed_at: Date;
}

export interface ShopKeyRow {
  id: number;
  public_key: string;
  private_key: string;
  created_at: Date;
}

export interface LibraryCaseRow {
  id: number;
  case_key: string;
  job_id: number | null;
  library_id: number | null;
  model: string;
  device_class: DeviceClass;
  circuit: CircuitId;
  element: string;
  part: string;
  cure: string;
  grade: OutcomeGrade;
  weight: number;
  pattern: PatternId | null;
  pattern_alone: number | null;
  closed_at: Date;
  created_at: Date;
  /** Version of the library that it came with. */
  revision: string;
  technician: string;
  /** Name of the shop that it came from; empty for one of this shop. */
  origin: string;
  /** What is looked for in it, made by the database. */
  words: unknown;
}

/** How many cases there are, by what they are told apart by. */
export interface CaseCountRow {
  by: string;
  key: string;
  n: string;
}

/** A case that was taken out, and the version of the library from which it is gone. */
export interface LibraryGoneRow {
  case_key: string;
  revision: string;
}

/** A closed job with its call, and what it counts for. */
export interface CallRow {
  job_id: number;
  closed_at: Date;
  month: string;
  device_class: DeviceClass;
  model: string;
  technician: string;
  engine: string;
  assessment_id: number | null;
  grade: OutcomeGrade;
  circuit: CircuitId | null;
  element: string;
  pattern: PatternId | null;
  pattern_alone: number | null;
  circuits: { id: CircuitId; p: number; element: string | null; uncorrected: number }[];
  minutes_to_call: number | null;
  minutes_to_cause: number | null;
  probes: number;
  /** By the name of what is counted, with the number that it adds. */
  counts: Record<string, number>;
}

/** What calls add up to: of all, or of a group. */
export interface CallSumRow {
  by: string;
  key: string;
  what: string;
  n: string;
  sum: number;
}

export interface LibraryRunRow {
  id: number;
  case_id: number;
  run_key: string;
  feed: Feed;
  pattern: PatternId | null;
  setup: SignatureSetup;
  data: Buffer;
  outline: number[];
  amps: number | null;
  volts: number | null;
}

export interface LibraryStateRow {
  id: number;
  version: string;
  recalibrate: boolean;
  recalibration: Recalibration | null;
  /** How often one was made, and how many calls changed since. */
  fits: number;
  unfitted: number;
}

export interface NoteRow {
  id: number;
  model: string;
  device_class: DeviceClass;
  feed: Feed | null;
  volts: number | null;
  amps: number | null;
  setup: string;
  circuit: CircuitId;
  element: string;
  hits: number;
  of: number;
  library_id: number | null;
  deleted_at: Date | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

/** A frozen call beside what another engine says of the same inputs: places of the circuit that it was, and logs of what it got. */
export interface Replayed {
  job: number;
  before: number | null;
  after: number | null;
  logBefore: number;
  logAfter: number;
}

export interface ReplayRow {
  id: number;
  engine: string;
  state: 'waiting' | 'running' | 'done' | 'cancelled' | 'failed';
  done: number;
  total: number;
  results: Replayed[];
  problem: string | null;
  created_at: Date;
  ended_at: Date | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}
