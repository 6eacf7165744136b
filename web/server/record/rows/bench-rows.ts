import type { CalibratedQuantity, CalibrationPoint } from '@umbral/core';
import type { RecorderHealth, StationState } from '@umbral/instruments';
import type { InstrumentSpec } from '@umbral/instruments/spec';

/** Rows of instruments, benches and the settings of the shop. A column is here as it is in the database, which `tables.test.ts` holds against the migrations. */

export interface InstrumentRow {
  id: number;
  key: string;
  version: number;
  spec: InstrumentSpec;
  created_at: Date;
  updated_at: Date;
  bench_id: number | null;
  /** How a camera looks at its display; null where none does. */
  framing: unknown;
}

export interface BenchRow {
  id: number;
  key: string;
  name: string;
  token_id: number | null;
  state: StationState[] | null;
  health: RecorderHealth | null;
  lease: string | null;
  clock_off_s: number | null;
  seen_at: Date | null;
  created_at: Date;
}

export interface CalibrationRow {
  id: number;
  instrument_key: string;
  quantity: CalibratedQuantity;
  points: CalibrationPoint[];
  gain: number;
  offset: number;
  against: string;
  technician: string;
  made_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface BackupRow {
  id: number;
  made_at: Date;
  file: string;
  bytes: string;
  sha256: string;
}

export interface ShopPolicyRow {
  id: number;
  version: number;
  value: unknown;
  updated_at: Date;
}

/** For whom a bench elsewhere was told to do something. */
/** Events of benches that are in the record, so that each is there once. */
export interface BenchEventRow {
  key: string;
}

export interface BenchOrderRow {
  bench_id: number;
  person_id: number;
  /** 0 for none. */
  job_id: number;
  first_at: Date;
}
