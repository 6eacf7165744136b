import type { OwnHours } from './day-rows.ts';
import type { Role } from '../actor.ts';

/** Rows of people, their sessions and what they did. A column is here as it is in the database, which `tables.test.ts` holds against the migrations. */

export interface PersonRow {
  id: number;
  name: string;
  role: Role;
  password_hash: string | null;
  pin_hash: string | null;
  is_demo: boolean;
  disabled_at: Date | null;
  version: number;
  created_at: Date;
  /** How far they open a device, 0 to 5. */
  max_depth: number;
  /** Hours of their own; null for those of the shop. */
  hours: OwnHours | null;
}

export interface PresenceRow {
  job_id: number;
  tab: string;
  person_id: number;
  field: string;
  seen_at: Date;
}

export interface SessionRow {
  hash: string;
  person_id: number;
  created_at: Date;
  seen_at: Date;
  expires_at: Date;
  locked_at: Date | null;
}

/** Tries to sign in, by what they are counted for: a name, an address, a person at a screen where they are known. */
export interface SignInTriesRow {
  key: string;
  tries: number;
  tried_at: Date;
  locked_until: Date | null;
}

/** A screen at which somebody signed in. */
export interface KnownScreenRow {
  hash: string;
  person_id: number;
  seen_at: Date;
}

/** A change that was sent, by the key of its intention. */
export interface RequestRow {
  key: string;
  /** What it was sent for; null for one of an earlier release. */
  what: string | null;
  person_id: number | null;
  /** What was answered; null while it is being done. */
  answer: { ok: true; value: unknown } | null;
  /** Which process answers, by its number and when it began; null for one of an earlier release. */
  process: string | null;
  asked_at: Date;
}

export interface SignInCodeRow {
  hash: string;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
  expires_at: Date;
  used_at: Date | null;
}

export interface TokenRow {
  id: number;
  name: string;
  hash: string;
  scopes: string[];
  person_id: number;
  created_at: Date;
  used_at: Date | null;
  revoked_at: Date | null;
}

export interface AuditRow {
  id: number;
  job_id: number | null;
  what: string;
  detail: Record<string, unknown>;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
  event_key: string | null;
}
