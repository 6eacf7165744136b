import { createHash } from 'node:crypto';
import {
  librarySettings,
  packSignature,
  patternTypes,
  seenRun,
  standingLevel,
  topPattern,
  type CircuitId,
  type OutcomeGrade,
  type Run,
  type Shape,
  type Signature,
} from '@umbral/core';
import * as engine from '../../analysis/engine.ts';
import { addAudit } from '../../record/audit.ts';
import { json, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { loadContent } from '../jobs/jobs.ts';
import { findProfile } from '../shop/profiles.ts';
import { caseOf, type JobContent, type RunRow } from '../../record/rows.ts';
import type { ConfirmationRow, LibraryCaseRow, LibraryRunRow, Written } from '../../record/tables.ts';
import { countCalls } from './calls.ts';

/** What a confirmation says. */
export interface Confirmed {
  grade: OutcomeGrade;
  circuit: CircuitId;
  target: string;
  why?: string;
}

/** Confirmations of a job that stand, the oldest first. */
export function standingConfirmations(q: Queries, jobId: number): Promise<ConfirmationRow[]> {
  return q('confirmations').where({ job_id: jobId }).whereNull('withdrawn_at').orderBy('id');
}

/** Notes what somebody found that a job was, and lets it teach. */
export async function confirmCase(q: Queries, jobId: number, confirmed: Confirmed): Promise<void> {
  await q('confirmations').insert({ job_id: jobId, why: '', ...confirmed });
  await teachLibrary(q, jobId);
}

/** Takes a confirmation back, and with it all that it taught. */
export async function withdrawCase(q: Queries, jobId: number, id: number | null): Promise<void> {
  const taken = await q('confirmations')
    .where({ job_id: jobId, ...(id === null ? {} : { id }) })
    .whereNull('withdrawn_at')
    .update({ withdrawn_at: q.fn.now() });
  if (id !== null && taken === 0) throw missing('This confirmation');
  await teachLibrary(q, jobId);
}

/**
 * Puts a job into the library as it is confirmed now, or takes it out: where nothing is confirmed, where two people say two
 * things, where it is in the trash or was opened again. Counts its call as it is now. Nobody else's job can teach from here to the
 * end of the transaction: last in it.
 */
export async function teachLibrary(q: Queries, jobId: number): Promise<void> {
  const lesson = await lessonOfJob(q, jobId);
  const taught = await q('library_cases').where({ job_id: jobId }).first('id');
  // A deletion of none is a change of the library all the same: every verdict would be asked for with all of it anew.
  if (taught) await q('library_cases').where({ job_id: jobId }).delete();
  if (lesson) await learn(q, jobId, lesson);
  await countCalls(q, [jobId]);
}

/** What a case of this grade teaches. */
export function weightOf(grade: OutcomeGrade): number {
  const { measured, cleared, proven } = librarySettings.weights;
  return grade === 'measured' ? measured : grade === 'cleared' ? cleared : proven;
}

/** What a job teaches as it is confirmed now; null where it teaches nothing. */
async function lessonOfJob(q: Queries, jobId: number): Promise<StoredLesson | null> {
  const standing = await standingConfirmations(q, jobId);
  const confirmed = standing.at(-1);
  if (!confirmed || standing.some((c) => c.circuit !== confirmed.circuit)) return null;
  const job = await q('jobs')
    .where({ id: jobId, is_practice: false })
    .whereNull('deleted_at')
    .whereNotNull('closed_at')
    .first('id');
  return job ? storedLesson(q, await loadContent(q, jobId), confirmed) : null;
}

/** A case of the library with its runs, as it is stored. */
interface StoredLesson {
  row: Written<LibraryCaseRow>;
  runs: ReturnType<typeof runOfLibrary>[];
}

async function storedLesson(q: Queries, content: JobContent, confirmed: ConfirmationRow): Promise<StoredLesson> {
  const { job, runs, actions } = content;
  const value = caseOf(content);
  const shapes = new Map<string, Shape>(runs.map((r) => [r.run_key, r.shape]));
  const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
  const lesson = await engine.lesson({ ...value, outcome: null }, shapes, known, confirmed.circuit);
  const before = value.runs.filter((r) => r.after === null && shapes.has(r.id));
  const rows = before.flatMap((run) => {
    const row = runs.find((r) => r.run_key === run.id);
    const signature = lesson.signatures.find((s) => s.run === run.id);
    const shape = shapes.get(run.id);
    return row && signature && shape ? [runOfLibrary(value, run, shape, signature, row)] : [];
  });
  const patterns = rows.flatMap((r) => (r.pattern ? [r.pattern] : []));
  const cure = actions.findLast((a) => a.kind !== 'disconnect') ?? null;
  const row = {
    // A case that came in as a package as well is one case: its recorded runs are the same to the last digit.
    case_key: fingerprintOf(content, rows) ?? keyOfJob(job.id),
    job_id: job.id,
    technician: job.technician,
    model: job.model,
    device_class: job.device_class,
    circuit: confirmed.circuit,
    element: confirmed.target,
    part: value.actions.findLast((a) => a.part !== '')?.part ?? '',
    cure: cure ? `${cure.kind} ${cure.target}`.trim() : '',
    grade: confirmed.grade,
    weight: weightOf(confirmed.grade),
    pattern: patterns.find((p) => patternTypes[p].healthyWhen === undefined) ?? patterns[0] ?? null,
    pattern_alone: lesson.patternAlone,
    closed_at: job.closed_at ?? new Date(),
  };
  return { row, runs: rows };
}

async function learn(q: Queries, jobId: number, { row, runs }: StoredLesson): Promise<void> {
  const twin = await q('library_cases').where({ case_key: row.case_key }).first('job_id');
  if (twin) {
    await addAudit(q, jobId, `adds nothing: it is a copy of job ${twin.job_id} `);
    return;
  }
  const [{ id }] = await q('library_cases').insert(row).returning('id');
  if (runs.length > 0) await q('library_runs').insert(runs.map((r) => ({ ...r, case_id: id })));
}

/** What a job is called in the library where nothing else tells it from others. */
export const keyOfJob = (jobId: number): string => `job ${jobId}`;

/** Of the recorded runs; null where all were typed, since two people read the same numbers off two devices. */
function fingerprintOf({ runs }: JobContent, rows: readonly { run_key?: unknown; data?: unknown }[]): string | null {
  const recorded = rows.filter((r) => runs.some((run) => run.run_key === r.run_key && run.typed === null));
  if (recorded.length === 0) return null;
  const hash = createHash('sha256');
  for (const { data } of recorded) hash.update(data as Buffer);
  return `case ${hash.digest('hex').slice(0, 32)}`;
}

/** Points of an outline, at most. */
const outlinePoints = 64;

/** A run as the library keeps it: its signature, its outline, and the level that the notebook is searched by. */
export function runOfLibrary(
  value: Parameters<typeof seenRun>[0],
  run: Run,
  shape: Shape,
  signature: Signature,
  row: Pick<RunRow, 'preview'>,
): Omit<Written<LibraryRunRow>, 'case_id' | 'pattern'> & Pick<LibraryRunRow, 'pattern'> {
  const seen = seenRun(value, run, shape);
  const { amps, volts } = standingLevel(seen);
  return {
    run_key: run.id,
    feed: run.feed,
    pattern: topPattern(seen.patterns),
    setup: json(signature.setup),
    data: Buffer.from(packSignature(signature)),
    outline: outlineOf(row.preview.mean),
    amps,
    volts: volts ?? run.setup.setV,
  };
}

function outlineOf(means: readonly (number | null)[]): number[] {
  const step = Math.max(1, Math.ceil(means.length / outlinePoints));
  return Array.from({ length: Math.ceil(means.length / step) }, (_, k) =>
    Math.max(0, ...means.slice(k * step, (k + 1) * step).map((x) => x ?? 0)),
  );
}

/**
 * Says that a closed job was something else than what stands there, or the same for other reasons. Two that disagree teach
 * nothing until one of them is withdrawn.
 *
 * @throws {ExpectedError} for a job that is not closed
 */
export async function confirmOtherwise(q: Queries, jobId: number, confirmed: Confirmed): Promise<void> {
  const job = await q('jobs').where({ id: jobId }).whereNull('deleted_at').forUpdate().first('closed_at');
  if (!job) throw missing(`Job ${jobId}`);
  if (!job.closed_at) throw new ExpectedError('input', 'Only a closed job can be confirmed. Close it with its cause.');
  await confirmCase(q, jobId, confirmed);
  await addAudit(q, jobId, 'confirmed by another person', { ...confirmed });
}
