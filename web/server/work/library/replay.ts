import { engineVersion, type Assessment, type CircuitId, type Shape } from '@umbral/core';
import * as engine from '../../analysis/engine.ts';
import { describeSamples } from '../../analysis/pool.ts';
import { addAudit } from '../../record/audit.ts';
import { loadSamples } from '../jobs/chunks.ts';
import { db, json, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { loadPolicy } from '../shop/policy.ts';
import { findProfile } from '../shop/profiles.ts';
import {
  runOf,
  type AssessmentRow,
  type CallInputs,
  type JobRow,
  type ReplayRow,
  type Replayed,
  type RunRow,
} from '../../record/rows.ts';
import { loadLibrary, libraryKeyOf, type KnownLibrary } from '../../analysis/known-library.ts';

/** Frozen calls that are made again: of more the newest, which are about the devices and people that are here now. */
const atMost = 2000;
/** Calls that are made anew between two looks at whether somebody cancelled. */
const atOnce = 20;
/** Under every probability whose logarithm is taken. */
const minP = 1e-4;

/** A frozen call with what it was made from and what it turned out to be. */
interface FrozenInputs {
  job: number;
  circuit: CircuitId;
  at: Date;
  profile: string | null;
  profileVersion: number | null;
  inputs: CallInputs;
  result: Pick<Assessment, 'circuits'>;
}

/**
 * Notes that all frozen calls are to be made again with the engine that runs now; nothing that is in force changes by it.
 *
 * @throws {ExpectedError} while one is under way
 */
export async function beginReplay(): Promise<number> {
  return transaction(async (q) => {
    await q.raw('SELECT pg_advisory_xact_lock(?)', [4714]);
    const running = await q('replays').whereIn('state', ['waiting', 'running']).first('id');
    if (running) throw new ExpectedError('input', 'Past verdicts are already being recomputed. Wait, or cancel it.');
    const total = (await frozenJobs(q)).length;
    const [{ id }] = await q('replays').insert({ engine: engineVersion, total }).returning('id');
    await addAudit(q, null, 'past verdicts recomputed with this engine', { engine: engineVersion, total });
    return id;
  });
}

/** Stops it; what was made so far stays to be looked at. */
export async function cancelReplay(id: number): Promise<void> {
  await db()('replays')
    .where({ id })
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'cancelled', ended_at: new Date() });
}

/** Makes the calls again, some at a time. A second process that is handed the same one goes on where the first was. */
export async function runReplay(id: number): Promise<void> {
  const q = db();
  const started = await q('replays')
    .where({ id })
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'running' });
  if (started === 0) return;
  try {
    const jobs = await frozenJobs(q);
    const library = await loadLibrary(q);
    const row = (await q('replays').where({ id }).first()) as ReplayRow;
    const results = [...row.results];
    for (let k = results.length; k < jobs.length; k += atOnce) {
      const calls = await frozenInputs(q, jobs.slice(k, k + atOnce));
      results.push(...(await callAgain(q, calls, library)));
      const going = await q('replays')
        .where({ id, state: 'running' })
        .update({ done: results.length, total: jobs.length, results: json(results) });
      if (going === 0) return;
    }
    await q('replays').where({ id }).update({ state: 'done', ended_at: new Date() });
  } catch (error) {
    await q('replays')
      .where({ id })
      .update({ state: 'failed', problem: String(error), ended_at: new Date() });
    throw error;
  }
}

/** Jobs whose cause is confirmed and whose call kept its inputs: the newest, the oldest of them first. */
async function frozenJobs(q: Queries): Promise<number[]> {
  const ids = (await frozen(q).orderBy('j.id', 'desc').limit(atMost).pluck('j.id')) as number[];
  return ids.reverse();
}

const frozen = (q: Queries) =>
  q('library_cases as c')
    .join('jobs as j', 'j.id', 'c.job_id')
    .join('assessments as a', 'a.job_id', 'j.id')
    .leftJoin('openings as o', 'o.job_id', 'j.id')
    .whereNull('j.deleted_at')
    .whereNotNull('a.inputs')
    .whereRaw(
      'a.id = coalesce(o.assessment_id, (SELECT max(id) FROM assessments WHERE job_id = j.id AND created_at <= j.closed_at))',
    );

async function frozenInputs(q: Queries, jobs: readonly number[]): Promise<FrozenInputs[]> {
  const rows = (await frozen(q)
    .whereIn('j.id', jobs)
    .orderBy('j.id')
    .select(
      'j.id as job',
      'c.circuit',
      'a.created_at',
      'a.profile',
      'a.profile_version',
      'a.inputs',
      q.raw("jsonb_build_object('circuits', a.result->'circuits') AS result"),
    )) as (Pick<AssessmentRow, 'created_at' | 'profile' | 'profile_version'> & {
    job: number;
    circuit: CircuitId;
    inputs: CallInputs;
    result: Pick<Assessment, 'circuits'>;
  })[];
  return rows.map((r) => ({
    job: r.job,
    circuit: r.circuit,
    at: r.created_at,
    profile: r.profile,
    profileVersion: r.profile_version,
    inputs: r.inputs,
    result: r.result,
  }));
}

async function callAgain(q: Queries, calls: readonly FrozenInputs[], known: KnownLibrary): Promise<Replayed[]> {
  const shop = await loadPolicy(q);
  const asked = [];
  for (const call of calls) {
    const used = call.profile === null ? null : await findProfile(q, call.profile, call.profileVersion);
    const without = await libraryKeyOf(q, call.job);
    const options = { shop, library: { known, without, before: call.at.getTime() } };
    asked.push({ value: call.inputs.value, shapes: await shapesOf(q, call), used, options });
  }
  const answers = await engine.callAll(asked);
  return calls.map((call, k) => {
    const of = (a: Pick<Assessment, 'circuits'>) => {
      const rank = a.circuits.findIndex((c) => c.id === call.circuit);
      return { rank: rank < 0 ? null : rank + 1, log: Math.log(Math.max(a.circuits[rank]?.p ?? 0, minP)) };
    };
    const [before, after] = [of(call.result), of(answers[k])];
    return { job: call.job, before: before.rank, after: after.rank, logBefore: before.log, logAfter: after.log };
  });
}

/** Shapes of the runs of a call as this engine sees them; what an older one described is described anew, and not kept. */
async function shapesOf(q: Queries, { job, inputs }: FrozenInputs): Promise<Map<string, Shape>> {
  const rows = (await q('runs').where({ job_id: job }).whereIn('run_key', inputs.runs)) as RunRow[];
  const shapes = new Map<string, Shape>();
  for (const row of rows)
    shapes.set(
      row.run_key,
      row.engine === engineVersion || row.samples_dropped_at !== null ? row.shape : await described(q, row, inputs),
    );
  return shapes;
}

async function described(q: Queries, row: RunRow, { value }: CallInputs): Promise<Shape> {
  const run = value.runs.find((r) => r.id === row.run_key) ?? runOf(row);
  const { samples, summary } = await loadSamples(q, row.id, run.instrument);
  const task = { kind: 'describe' as const, run, device: value.device, samples, summary, limitSpans: row.limit_spans };
  return (await describeSamples(task)).shape;
}

/** The last time that frozen calls were made again; null where they never were. */
export async function lastReplay(q: Queries): Promise<ReplayRow | null> {
  return (await q('replays').orderBy('id', 'desc').first()) ?? null;
}

/** A job's number with its name, for lists. */
export async function jobNames(q: Queries, ids: readonly number[]): Promise<Map<number, string>> {
  const rows = (await q('jobs')
    .whereIn('id', [...new Set(ids)])
    .select('id', 'label')) as Pick<JobRow, 'id' | 'label'>[];
  return new Map(rows.map((r) => [r.id, r.label]));
}
