import type { CircuitId, DeviceClass, Feed, OutcomeGrade, PatternId, SignatureSetup } from '@umbral/core';

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
