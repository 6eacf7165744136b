import { createHash } from 'node:crypto';
import { checkTypes, engineVersion, isCheck, type Assessment, type Shape } from '@umbral/core';
import * as engine from './analysis/engine.ts';
import { json, type Queries } from './db.ts';
import { conflict, ExpectedError, missing } from './errors.ts';
import { libraryKeyOf, loadLibrary } from './library/known.ts';
import { loadPolicy } from './policy.ts';
import { findProfile, type KnownProfile } from './profiles.ts';
import { stageReached } from './stage.ts';
import { caseOf, type AssessmentRow, type JobContent, type JobRow, type RunRow, type Written } from './rows.ts';

/** Everything of a job but its samples. */
export async function loadContent(q: Queries, jobId: number): Promise<JobContent> {
  const job = await q<JobRow>('jobs').where({ id: jobId }).whereNull('deleted_at').first();
  if (!job) throw missing(`Job ${jobId}`);
  const of = (table: string) => q(table).where({ job_id: jobId }).orderBy('id');
  // One after the other: a transaction has one connection.
  const runs = await of('runs').whereNull('deleted_at');
  const checks = await of('checks').whereNull('deleted_at');
  const readings = await of('readings').whereNull('deleted_at');
  const injections = await of('injections').whereNull('deleted_at');
  const actions = await of('actions');
  const proofs = await of('proofs').whereNull('deleted_at');
  const places = await of('place_names');
  return { job, runs: runs as RunRow[], checks, readings, injections, actions, proofs, places };
}

/** Changes a job only if nobody else has since `version` was read. */
export async function updateJob(q: Queries, jobId: number, version: number, changes: Written<JobRow>): Promise<void> {
  const changed = await q('jobs')
    .where({ id: jobId, version })
    .whereNull('deleted_at')
    .update({ ...changes, version: version + 1, updated_at: q.fn.now() });
  if (changed === 1) return;
  const exists = await q('jobs').where({ id: jobId }).whereNull('deleted_at').first('id');
  throw exists ? conflict() : missing(`Job ${jobId}`);
}

export async function latestAssessment(q: Queries, jobId: number): Promise<AssessmentRow | null> {
  return (await q<AssessmentRow>('assessments').where({ job_id: jobId }).orderBy('id', 'desc').first()) ?? null;
}

interface AskedJob extends engine.AskedCase {
  shapes: Map<string, Shape>;
  used: KnownProfile | null;
  options: engine.AskOptions & { shop: Awaited<ReturnType<typeof loadPolicy>> };
}

/**
 * A job as the engine is asked of it: without its outcome, with its profile, the library but for itself, and the shop's rules.
 *
 * @param before only what was confirmed before this moment has a say
 */
export async function askedOf(q: Queries, content: JobContent, before?: Date): Promise<AskedJob> {
  const { job, runs } = content;
  // What the shop has met says nothing of a simulated unit, whose faults come by the base rates.
  const library = job.is_practice
    ? null
    : { known: await loadLibrary(q), without: await libraryKeyOf(q, job.id), before: before?.getTime() ?? null };
  return {
    value: { ...caseOf(content), outcome: null },
    shapes: new Map<string, Shape>(runs.map((r) => [r.run_key, r.shape])),
    used: job.profile ? await findProfile(q, job.profile, job.profile_version) : null,
    options: { ...(library ? { library } : {}), shop: await loadPolicy(q) },
  };
}

/**
 * Assesses the job as it stands and stores the result as a new row, unless nothing it depends on has changed. When the
 * device has just been opened, the assessment that was in force until now is marked.
 *
 * @param reason what changed, for the job's story
 * @param options.at when it was, where a record is brought in that is older
 * @param options.assess who is asked
 */
export async function reassess(
  q: Queries,
  jobId: number,
  reason: string,
  { at, assess = engine.assess }: { at?: Date; assess?: typeof engine.assess } = {},
): Promise<Assessment> {
  // One at a time for a job: two that run together would each miss what the other has just stored.
  await q.raw('SELECT pg_advisory_xact_lock(?, ?)', [4711, jobId]);
  const content = await loadContent(q, jobId);
  const previous = await latestAssessment(q, jobId);
  if (isOpened(content)) await markOpening(q, jobId, previous, reason, at);
  const runWarnings = new Map(content.runs.map((r) => [r.run_key, [...r.repairs, ...r.warnings]]));
  const { value, shapes, used: known, options } = await askedOf(q, content, at);
  const result = await assess(value, shapes, known, { runWarnings, ...options });
  const inputs = json([
    engineVersion,
    value,
    content.runs.map((r) => r.shape),
    known?.version,
    options.library?.known.version,
    options.shop.version,
  ]);
  const hash = createHash('sha256').update(inputs).digest('hex');
  if (previous?.inputs_hash === hash) return previous.result;
  await q('assessments').insert({
    job_id: jobId,
    engine: engineVersion,
    profile: known?.profile.id ?? null,
    profile_version: known?.version ?? null,
    inputs_hash: hash,
    reason,
    result: json(result),
    inputs: json({ value, runs: content.runs.map((r) => r.run_key) }),
    ...(at ? { created_at: at } : {}),
  });
  await q('jobs')
    .where({ id: jobId })
    .update({ updated_at: q.fn.now(), stage: stageReached(content, result) });
  return result;
}

/**
 * Something inside was unplugged, probed or changed. Taking the cover off to reach the battery connector does not count:
 * that run belongs to the call, which is frozen when the work inside begins (docs/decisions/0004).
 */
function isOpened({ job, runs, checks, readings, injections, actions }: JobContent): boolean {
  const deepCheck = checks.some((c) => isCheck(c.check_id) && c.outcome !== null && checkTypes[c.check_id].depth >= 2);
  const deepRun = runs.some(
    (r) => r.setup.unplugged.length > 0 || r.setup.assembly === 'board-alone' || r.setup.assembly === 'half',
  );
  const touched = readings.length + injections.length + actions.length > 0;
  return job.opened_at !== null || deepRun || deepCheck || touched;
}

/** Marks, once, the assessment that was in force when the device was opened. */
export async function markOpening(
  q: Queries,
  jobId: number,
  inForce: AssessmentRow | null,
  reason: string,
  at?: Date,
): Promise<void> {
  if (inForce) {
    await q('openings')
      .insert({ job_id: jobId, assessment_id: inForce.id, reason, ...(at ? { created_at: at } : {}) })
      .onConflict('job_id')
      .ignore();
  }
  await q('jobs')
    .where({ id: jobId })
    .whereNull('opened_at')
    .update({ opened_at: at ?? q.fn.now() });
}

/** Whether there is anything in a job that a verdict can be made from. */
export function hasAnything({ runs, checks, readings, injections }: JobContent): boolean {
  return runs.length + checks.length + readings.length + injections.length > 0;
}

/** The last change made to a device: what is entered now follows it unless somebody says otherwise. */
export function newestAction({ actions }: Pick<JobContent, 'actions'>): string | null {
  return actions.at(-1)?.action_key ?? null;
}

/**
 * The change that an entry follows: the newest where nobody said, none where it was said that nothing was done yet.
 *
 * @throws {ExpectedError} for a change that the job does not have
 */
export function followed(content: Pick<JobContent, 'actions'>, after: string | null | undefined): string | null {
  if (after === undefined) return newestAction(content);
  if (after === null || after === '') return null;
  if (!content.actions.some((a) => a.action_key === after))
    throw new ExpectedError('input', 'Follows: this job has no such change.');
  return after;
}

/**
 * Refuses a run that is said to follow a change which names it as the state before.
 *
 * @throws {ExpectedError} with both, so that one of them can be corrected
 */
export function refuseCircle({ actions }: Pick<JobContent, 'actions'>, runKey: string, follows: string | null): void {
  if (actions.find((a) => a.action_key === follows)?.run_before !== runKey) return;
  throw new ExpectedError(
    'input',
    `Run ${runKey} shows the state before this change, so it cannot follow it; name another run as the state before first.`,
  );
}
