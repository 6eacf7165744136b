import {
  deviceClassTypes,
  practiceFigures,
  readinessOf,
  targetOf,
  type CircuitId,
  type DeviceClass,
  type PracticeFigures,
  type Readiness,
} from '@umbral/core';
import { addAudit } from '../../record/audit.ts';
import { db, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import type { Person } from '../../record/actor.ts';
import { findProfile } from '../shop/profiles.ts';
import type { JobRow, PracticeTeamUnitRow } from '../../record/tables.ts';
import { calledUnits, type CalledRow } from './figures.ts';
import { makeUnit, newSeed } from './units.ts';

/** The unit of the week that everybody tries, with how those did who have finished with it. */
export interface TeamUnitView {
  id: number;
  /** The Monday of its week, YYYY-MM-DD. */
  week: string;
  model: string;
  /** The person's own; null where it was not begun. */
  jobId: number | null;
  /** Shown once the person has called it. */
  results: { name: string; points: number; right: boolean }[];
}

const dayMs = 86_400_000;
const daysPerWeek = 7;

/** The Monday of the week of a moment, YYYY-MM-DD in UTC. */
export function weekOf(now: Date): string {
  const day = (now.getUTCDay() + daysPerWeek - 1) % daysPerWeek;
  return new Date(now.getTime() - day * dayMs).toISOString().slice(0, 10);
}

/** The team's unit of this week; null where no lead has set one. */
export async function loadTeamUnit(q: Queries, personId: number, now: Date): Promise<TeamUnitView | null> {
  const row = await q<PracticeTeamUnitRow>('practice_team_units')
    .where({ week: weekOf(now) })
    .first();
  if (!row) return null;
  const known = await findProfile(q, row.profile, row.profile_version);
  const tries = (await q('practice_units as u')
    .join('people as p', 'p.id', 'u.person_id')
    .leftJoin('practice_calls as c', 'c.job_id', 'u.job_id')
    .where('u.team_unit_id', row.id)
    .orderBy('c.points', 'desc')
    .select('u.job_id', 'u.person_id', 'u.circuit', 'p.name', 'c.points', 'c.shares')) as {
    job_id: number;
    person_id: number;
    circuit: CircuitId;
    name: string;
    points: number | null;
    shares: { circuit: CircuitId; percent: number }[] | null;
  }[];
  const own = tries.find((t) => t.person_id === personId);
  const called = tries.filter((t) => t.points !== null && t.shares !== null);
  return {
    id: row.id,
    week: weekOf(now),
    model: known?.profile.name ?? row.profile,
    jobId: own?.job_id ?? null,
    results:
      own?.points == null
        ? []
        : called.map((t) => ({
            name: t.name,
            points: t.points as number,
            right: (t.shares ?? []).reduce((a, b) => (b.percent > a.percent ? b : a)).circuit === t.circuit,
          })),
  };
}

/** What a lead may set as the team's unit. */
interface TeamOrder {
  profile: string;
  circuit: CircuitId | null;
  severity: 'slight' | 'hard' | null;
}

/**
 * Sets the unit of this week.
 *
 * @throws {ExpectedError} where there is one already that somebody has begun
 */
export async function setTeamUnit(order: TeamOrder, now: Date): Promise<void> {
  await transaction(async (q) => {
    const week = weekOf(now);
    const known = await findProfile(q, order.profile);
    if (!known) throw missing(`Profile ${order.profile}`);
    const before = await q('practice_team_units').where({ week }).first('id');
    if (before && (await q('practice_units').where({ team_unit_id: before.id }).first('job_id')))
      throw new ExpectedError(
        'input',
        'Someone has already started this week’s unit. The next one can be set on Monday.',
      );
    await q('practice_team_units').where({ week }).delete();
    const { circuit, severity } = order;
    await q('practice_team_units').insert({
      week,
      profile: order.profile,
      profile_version: known.version,
      circuit,
      severity,
      fault: null,
      seed: newSeed(),
    });
    await addAudit(q, null, `team unit of ${week}`);
  });
}

/**
 * The team's unit on one's own bench: the one that was begun, or a new one with the same device and fault.
 *
 * @returns number of the job
 */
export async function takeTeamUnit(person: Person, now: Date): Promise<number> {
  return transaction(async (q) => {
    await q.raw('SELECT pg_advisory_xact_lock(?, ?)', [4714, person.id]);
    const row = await q<PracticeTeamUnitRow>('practice_team_units')
      .where({ week: weekOf(now) })
      .first();
    if (!row) throw missing('The unit of this week');
    const own = await q('practice_units').where({ team_unit_id: row.id, person_id: person.id }).first('job_id');
    if (own) return own.job_id;
    return makeUnit(q, person, {
      source: 'team',
      teamUnitId: row.id,
      profile: row.profile,
      version: row.profile_version,
      circuit: row.circuit,
      fault: row.fault,
      severity: row.severity,
      seed: row.seed,
    });
  });
}

/**
 * A unit from a closed job: the same fault in another device of the model, with other numbers.
 *
 * @returns number of the practice job
 * @throws {ExpectedError} for a job that is not closed with a circuit
 */
export async function unitFromJob(jobId: number, person: Person): Promise<number> {
  return transaction(async (q) => {
    const job = await q<JobRow>('jobs').where({ id: jobId, is_practice: false }).whereNull('deleted_at').first();
    if (!job) throw missing(`Job ${jobId}`);
    if (job.closed_at === null || job.outcome_circuit === null)
      throw new ExpectedError('input', 'This needs a job that was closed with its circuit.');
    const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
    const profile = known?.profile.id ?? `generic-${job.device_class === 'other' ? 'phone' : job.device_class}`;
    // The element that was named, where the profile has a fault for it; else any of its circuit.
    const element = known && job.outcome_target ? elementFault(known.profile, job) : null;
    return makeUnit(q, person, {
      source: 'job',
      profile,
      version: known?.version ?? 0,
      circuit: job.outcome_circuit,
      ...(element ? { at: element } : {}),
    });
  });
}

function elementFault(profile: Parameters<typeof targetOf>[0], job: JobRow): string | null {
  const target = targetOf(profile, job.outcome_target);
  return target && target.circuit === job.outcome_circuit ? job.outcome_target : null;
}

/** How one person reads, for the lead. */
export interface LearnerView {
  id: number;
  name: string;
  figures: PracticeFigures;
  lessonsDone: number;
  byClass: { name: string; ready: Readiness }[];
  byDepth: { name: string; ready: Readiness }[];
  /** The last units, newest first: what the readiness stands on. */
  last: { jobId: number; circuit: CircuitId; said: CircuitId; points: number }[];
}

const shownUnits = 6;
const depthGroups = [
  { name: 'outside', from: 0, to: 1 },
  { name: 'inside, probing', from: 2, to: 3 },
  { name: 'injection, heat', from: 4, to: 5 },
] as const;

/** Everybody who practises, with what they are ready for and what that stands on. */
export async function loadLearners(): Promise<LearnerView[]> {
  const q = db();
  const people = (await q('people').whereNull('disabled_at').orderByRaw('lower(name)').select('id', 'name')) as {
    id: number;
    name: string;
  }[];
  const all = await calledUnits(q, null);
  const lessons = (await q('practice_lessons')
    .whereNotNull('done_at')
    .groupBy('person_id')
    .select('person_id', {
      n: q.raw('count(*)::int'),
    })) as unknown as { person_id: number; n: number }[];
  return people.flatMap(({ id, name }): LearnerView[] => {
    const calls = all.filter((c) => c.personId === id);
    const lessonsDone = lessons.find((l) => l.person_id === id)?.n ?? 0;
    return calls.length === 0 && lessonsDone === 0 ? [] : [learnerView(id, name, lessonsDone, calls)];
  });
}

function learnerView(id: number, name: string, lessonsDone: number, calls: CalledRow[]): LearnerView {
  const classes = [...new Set(calls.map((c) => c.deviceClass))] as DeviceClass[];
  return {
    id,
    name,
    lessonsDone,
    figures: practiceFigures(calls),
    byClass: classes.map((c) => ({
      name: deviceClassTypes[c].name,
      ready: readinessOf(calls.filter((x) => x.deviceClass === c)),
    })),
    byDepth: depthGroups.map(({ name: depth, from, to }) => ({
      name: depth,
      ready: readinessOf(calls.filter((c) => c.depth >= from && c.depth <= to)),
    })),
    last: calls
      .slice(-shownUnits)
      .reverse()
      .map(({ jobId, circuit, said, points }) => ({ jobId, circuit, said, points })),
  };
}
