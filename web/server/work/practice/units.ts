import {
  circuitIds,
  complaintTypes,
  deviceClassTypes,
  type CircuitId,
  type DeviceClass,
  type FaultKind,
  type UsualFeed,
} from '@umbral/core';
import * as yup from 'yup';
import { drawUnit } from '../../analysis/engine.ts';
import { addAudit } from '../../record/audit.ts';
import { json, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import type { Person } from '../../record/actor.ts';
import { findProfile } from '../shop/profiles.ts';
import type { PracticeSource, PracticeUnitRow } from '../../record/tables.ts';

const maxSeed = 1e9;

/** What somebody asks for who chooses a unit by hand. */
export const unitInput = yup.object({
  profile: yup.string().max(100).required('Device: choose a model or a kind of device'),
  circuit: yup
    .string()
    .oneOf([...circuitIds, ''], 'Circuit: not one that is known')
    .default(''),
  fault: yup.string().trim().max(120).default(''),
  severity: yup.string().oneOf(['', 'slight', 'hard'], 'Severity: expected slight or hard').default(''),
});

/** A unit that is to be made, by whatever asked for it. */
export interface UnitOrder {
  source: PracticeSource;
  profile: string;
  /** The latest where null. */
  version?: number | null;
  circuit?: CircuitId | null;
  /** A fault as the command line takes it. */
  fault?: string | null;
  severity?: 'slight' | 'hard' | null;
  /** Id of the element that it is at. */
  at?: string | null;
  kinds?: readonly FaultKind[] | null;
  seenOn?: UsualFeed | null;
  seed?: number;
  lesson?: string | null;
  teamUnitId?: number | null;
}

/** A seed for a unit that nobody has seen. */
export const newSeed = (): number => 1 + Math.floor(Math.random() * maxSeed);

/**
 * Makes a unit and lays it on the person's practice bench, as a job that is none of the shop's.
 *
 * @returns number of the job
 * @throws {ExpectedError} for a profile, a circuit or a fault that there is not
 */
export async function makeUnit(q: Queries, person: Person, order: UnitOrder): Promise<number> {
  const known = await findProfile(q, order.profile, order.version ?? null);
  if (!known) throw missing(`Profile ${order.profile}`);
  const { profile, version } = known;
  const seed = order.seed ?? newSeed();
  const { circuit = null, severity = null, at = null, kinds = null, seenOn = null } = order;
  const fault = order.fault || null;
  const unit = await said(() => drawUnit({ profile, circuit, fault, severity, at, kinds, seenOn }, seed));
  const [{ id }] = (await q.raw<{ rows: { id: number }[] }>(`SELECT nextval('practice_job_ids')::int AS id`)).rows;
  const deviceClass = profile.class as DeviceClass;
  await q('jobs').insert({
    id,
    is_practice: true,
    label: profile.generic ? deviceClassTypes[deviceClass].name : profile.name,
    device_class: deviceClass,
    model: profile.generic ? '' : profile.name,
    profile: profile.generic ? null : profile.id,
    profile_version: profile.generic ? 0 : version,
    complaint: unit.complaintKind ? complaintTypes[unit.complaintKind].name : '',
    complaint_kind: unit.complaintKind,
    technician: person.name,
    intake: json(unit.intake),
    expect: '{}',
  });
  await q('practice_units').insert({
    job_id: id,
    person_id: person.id,
    source: order.source,
    lesson: order.lesson ?? null,
    team_unit_id: order.teamUnitId ?? null,
    profile: profile.id,
    profile_version: version,
    seed,
    device: json(unit.device),
    faults: json(unit.faults),
    circuit: unit.circuit,
    says: unit.says,
  });
  await addAudit(q, id, 'practice unit put on the bench', { source: order.source });
  return id;
}

/** What the core says that it cannot make, as an error that a person reads. */
export async function said<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof RangeError) throw new ExpectedError('input', error.message);
    throw error;
  }
}

/**
 * A person's unit. A lead sees those of others, and works on none of them.
 *
 * @throws {ExpectedError} where there is none of that number, or it is somebody else's
 */
export async function ownUnit(q: Queries, jobId: number, person: Person): Promise<PracticeUnitRow> {
  const row = await findUnit(q, jobId);
  if (!row) throw missing(`Practice unit ${jobId}`);
  if (row.person_id !== person.id)
    throw new ExpectedError('input', 'This unit is on someone else’s practice bench. Start one of your own.');
  return row;
}

/** The unit behind a job; null for a job of the shop. */
export async function findUnit(q: Queries, jobId: number): Promise<PracticeUnitRow | null> {
  return (await q('practice_units').where({ job_id: jobId }).first()) ?? null;
}
