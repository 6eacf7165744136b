import type { WaitKind, WorkingHours, WorkKind } from '@umbral/core';

/** Rows of the bench's day. A column is here as it is in the database, which `tables.test.ts` holds against the migrations. */

export interface WaitRow {
  id: number;
  job_id: number;
  kind: WaitKind;
  words: string;
  started_at: Date;
  /** Null where nobody knows. */
  until_at: Date | null;
  ended_at: Date | null;
  /** What began it: empty for a hand; "action:a3", "proof:soak:hour". */
  source: string;
  /** Somebody has heard its alarm. */
  heard_at: Date | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface TakeRow {
  id: number;
  job_id: number;
  person_id: number;
  kind: WorkKind;
  started_at: Date;
  ended_at: Date | null;
}

export interface SheetMarkRow {
  job_id: number;
  /** Place that somebody gave it, lowest first; null for none. */
  rank: number | null;
  snoozed_until: Date | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

/** Hours of one person, in the shop's zone and without its closed days. */
export type OwnHours = Pick<WorkingHours, 'week'>;
