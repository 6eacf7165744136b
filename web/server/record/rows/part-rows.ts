import type { CircuitId, DeviceClass } from '@umbral/core';

/** Rows of parts and of boards that parts are taken from. A column is here as it is in the database, which `tables.test.ts` holds against the migrations. */

export interface PartRow {
  id: number;
  name: string;
  number: string;
  suffix: string;
  /** Suffixes that it stands in for. */
  fits: string[];
  device_class: DeviceClass | null;
  model: string;
  circuit: CircuitId;
  on_hand: number;
  minimum: number;
  cost: number;
  /** Where it is ordered; empty where nobody said. */
  supplier: string;
  shelf: string;
  version: number;
  deleted_at: Date | null;
  created_at: Date;
}

export interface PartMoveRow {
  id: number;
  part_id: number;
  delta: number;
  why: 'counted' | 'arrived' | 'taken' | 'returned';
  job_id: number | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface PartReservationRow {
  part_id: number;
  job_id: number;
  count: number;
}

export interface PartOrderRow {
  id: number;
  part_id: number;
  count: number;
  due_at: Date;
  arrived_at: Date | null;
  /** It will not come. */
  cancelled_at: Date | null;
  job_id: number | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface DonorRow {
  id: number;
  label: string;
  device_class: DeviceClass;
  model: string;
  shelf: string;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface DonorPartRow {
  id: number;
  donor_id: number;
  what: string;
  number: string;
  suffix: string;
  circuit: CircuitId;
  taken_at: Date | null;
  job_id: number | null;
}
