import { createHash } from 'node:crypto';
import { checkTypes, engineVersion, isCheck, lastDone, type Assessment, type Shape } from '@umbral/core';
import * as engine from '../../analysis/engine.ts';
import type { AskOptions } from '../../analysis/telling.ts';
import { afterCommit, db, json, transaction, type Queries } from '../../record/db.ts';
import { conflict, ExpectedError, log, missing } from '../../record/errors.ts';
import { libraryKeyOf, loadLibrary } from '../../analysis/known-library.ts';
import { actor } from '../../record/actor.ts';
import { refuseOthersUnit } from './own-unit.ts';
import { loadPolicy } from '../shop/policy.ts';
import { findProfile, type KnownProfile } from '../shop/profiles.ts';
import { stageReached } from './stage.ts';
import {
  caseOf,
  type AssessmentRow,
  type EntryTable,
  type JobContent,
  type JobEntries,
  type JobRow,
  type PlaceNameRow,
  type Written,
} from '../../record/rows.ts';

/** Tables of what is entered in a job, with the order of their rows: that of when it was done. */
const whenDone = 'coalesce(done_at, created_at), id';
const entryTables: Readonly<Record<EntryTable, string>> = {
  runs: whenDone,
  checks: whenDone,
  readings: whenDone,
  injections: whenDone,
  proofs: whenDone,
  actions: whenDone,
  place_names: 'id',
};

/** Everything of a job but its samples, in one question; one in the trash is there only for whoever asks for it. */
export async function loadContent(q: Queries, jobId: number, alsoInTrash = false): Promise<JobContent> {
  // Several statements at once take no parameters.
  const id = Math.trunc(Number(jobId));
  const statements = Object.entries(entryTables).map(
    ([table, order]) => `SELECT * FROM ${table} WHERE job_id = ${id} AND deleted_at IS NULL ORDER BY ${order}`,
  );
  const answers = (await q.raw(
    [`SELECT * FROM jobs WHERE id = ${id} ${alsoInTrash ? '' : 'AND deleted_at IS NULL'}`, ...statements].join('; '),
  )) as { rows: unknown[] }[];
  const [jobs, runs, checks, readings, injections, proofs, actions, places] = answers.map(({ rows }) => rows);
  if (jobs.length === 0) throw missing(`Job ${jobId}`);
  const who = actor()?.person;
  if (who && (jobs[0] as JobRow).is_practice) await refuseOthersUnit(q, id, who);
  const record = { runs, checks, readings, injections, actions, proofs } as JobEntries;
  return { job: jobs[0] as JobRow, places: places as PlaceNameRow[], record, ...countedOf(record) };
}

/** What counts of a record: not what is void, nor changes that are only planned. What followed one of those follows the one before. */
function countedOf(record: JobEntries): JobEntries {
  const isDone = (a: JobEntries['actions'][number]): boolean => !a.planned && a.void_why === null;
  const follows = lastDone(record.actions.map((a) => ({ id: a.action_key, isDone: isDone(a) })));
  const counted = <T extends { void_why: string | null; after_action: string | null }>(rows: readonly T[]): T[] =>
    rows
      .filter((r) => r.void_why === null)
      .map((r) => (r.after_action === null ? r : { ...r, after_action: follows(r.after_action) }));
  return {
    actions: record.actions.filter(isDone),
    runs: counted(record.runs),
    checks: counted(record.checks),
    readings: counted(record.readings),
    injections: counted(record.injections),
    proofs: counted(record.proofs),
  };
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
  options: AskOptions & { shop: Awaited<ReturnType<typeof loadPolicy>> };
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

/** What the engine is asked for a verdict, and what it said the last time. */
interface VerdictQuestion {
  content: JobContent;
  asked: AskedJob;
  previous: AssessmentRow | null;
  /** Of everything that the answer depends on. */
  hash: string;
}

async function questionOf(q: Queries, content: JobContent, at?: Date): Promise<VerdictQuestion> {
  const previous = await latestAssessment(q, content.job.id);
  const asked = await askedOf(q, content, at);
  const { value, used, options } = asked;
  const inputs = json([
    engineVersion,
    value,
    content.runs.map((r) => r.shape),
    used?.version,
    options.library?.known.version,
    options.shop.version,
  ]);
  return { content, asked, previous, hash: createHash('sha256').update(inputs).digest('hex') };
}

/** The verdict; the last one where nothing it depends on has changed. */
async function answerTo(
  { content, asked, previous, hash }: VerdictQuestion,
  assess: typeof engine.assess = engine.assess,
): Promise<Assessment> {
  if (previous?.inputs_hash === hash) return previous.result;
  const runWarnings = new Map(content.runs.map((r) => [r.run_key, [...r.repairs, ...r.warnings]]));
  return assess(asked.value, asked.shapes, asked.used, { runWarnings, ...asked.options });
}

/**
 * Stores a verdict as a new row where it is a new one. When the device has just been opened, the one that was in force until
 * now is marked.
 */
async function keepVerdict(
  q: Queries,
  { content, asked, previous, hash }: VerdictQuestion,
  result: Assessment,
  reason: string,
  at?: Date,
): Promise<void> {
  const { id, changes } = content.job;
  if (isOpened(content)) await markOpening(q, id, previous, reason, at);
  if (previous?.inputs_hash === hash) {
    await q('jobs').where({ id }).update({ changes_judged: changes });
    return;
  }
  const { value, used } = asked;
  await q('assessments').insert({
    job_id: id,
    engine: engineVersion,
    profile: used?.profile.id ?? null,
    profile_version: used?.version ?? null,
    inputs_hash: hash,
    reason,
    result: json(result),
    inputs: json({ value, runs: content.runs.map((r) => r.run_key) }),
    ...(at ? { created_at: at } : {}),
  });
  await q('jobs')
    .where({ id })
    .update({ updated_at: q.fn.now(), stage: stageReached(content, result), changes_judged: changes });
}

/**
 * Assesses the job as it stands, within the same transaction: for a job that is brought in whole or not at all.
 *
 * @param reason what changed, for the job's story
 * @param options.at when it was, where a record is brought in that is older
 * @param options.assess who is asked
 */
export async function reassessJob(
  q: Queries,
  jobId: number,
  reason: string,
  { at, assess }: { at?: Date; assess?: typeof engine.assess } = {},
): Promise<Assessment> {
  // One at a time for a job: two that run together would each miss what the other has just stored.
  await q.raw('SELECT pg_advisory_xact_lock(?, ?)', [4711, jobId]);
  const question = await questionOf(q, await loadContent(q, jobId), at);
  const result = await answerTo(question, assess);
  await keepVerdict(q, question, result, reason, at);
  return result;
}

/**
 * Notes that something changed which the verdict has to know. The verdict is made when the transaction is through: what was
 * entered is kept also where the engine fails, and nothing is held while it thinks.
 *
 * @param reason what changed, for the job's story
 * @throws {ExpectedError} for a job that is not there
 */
export async function verdictDue(q: Queries, jobId: number, reason: string): Promise<void> {
  const noted = await q('jobs')
    .where({ id: jobId })
    .whereNull('deleted_at')
    .update({ changes: q.raw('changes + 1'), updated_at: q.fn.now() });
  if (noted === 0) throw missing(`Job ${jobId}`);
  await afterCommit(q, `verdict of job ${jobId}`, () =>
    makeDueVerdict(jobId, reason).catch((error: unknown) => {
      // The page says that its verdict does not know the newest entries, and whoever opens it has it made.
      log.error({ job: jobId, problem: String(error) }, 'no verdict could be made');
    }),
  );
}

/** Makes the verdict of a job where one is due. Throws as {@link engine.assess}, and where the job is not there. */
export async function makeDueVerdict(jobId: number, reason: string): Promise<void> {
  for (;;) {
    const content = await loadContent(db(), jobId);
    const { changes, changes_judged: judged } = content.job;
    if (judged === changes) return;
    const question = await questionOf(db(), content);
    const result = await answerTo(question);
    const isKept = await transaction(async (q) => {
      const row = await q('jobs').where({ id: jobId, changes, changes_judged: judged }).forUpdate().first('id');
      if (row) await keepVerdict(q, question, result, reason);
      // For whoever else has the job open.
      await q.raw(`SELECT pg_notify('umbral_jobs', ?)`, [String(jobId)]);
      return row !== undefined;
    });
    // Otherwise something changed while the engine thought: once more, with that.
    if (isKept) return;
  }
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
export function followedAction(content: Pick<JobContent, 'actions'>, after: string | null | undefined): string | null {
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
    `Run ${runKey} shows the state before this change, so it cannot follow it. Choose another run as the state before first.`,
  );
}
