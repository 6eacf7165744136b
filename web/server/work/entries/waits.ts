import {
  usualWait,
  waitAfter,
  waitKinds,
  waitProblem,
  waitTypes,
  type ActionKind,
  type PastWait,
  type WaitKind,
} from '@umbral/core';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { db, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { loadPolicy } from '../shop/policy.ts';
import type { WaitRow } from '../../record/tables.ts';

const minute = 60_000;
/** Past waits that tell how long such waits take here. */
const pastLimit = 400;

export const waitInput = yup.object({
  jobId: yup.number().integer().positive().required(),
  kind: yup.string().oneOf(waitKinds, 'Waiting for: choose one').required('Waiting for: choose one'),
  words: yup.string().trim().max(200, 'Waiting for: at most 200 characters').default(''),
  /** Minutes from now; null with no `until` for until somebody says so. */
  minutes: yup.number().typeError('How long: expected a number').nullable().default(null),
  until: yup.date().typeError('Until: expected a day and a time').nullable().default(null),
});

type WaitInput = yup.InferType<typeof waitInput>;

/** A wait that runs, as pages show it. */
export interface RunningWait {
  id: number;
  jobId: number;
  label: string;
  kind: WaitKind;
  words: string;
  since: string;
  until: string | null;
  heard: boolean;
}

/** What a wait is called: its own words, or those of its kind. */
export const waitWords = ({ kind, words }: Pick<WaitRow, 'kind' | 'words'>): string => words || waitTypes[kind].doing;

/**
 * Begins a wait of a job, within a transaction. One that runs for the same reason is replaced.
 *
 * @param source what began it; empty for a hand
 */
export async function startWait(
  q: Queries,
  wait: { jobId: number; kind: WaitKind; words: string; until: Date | null; source?: string },
): Promise<void> {
  const { jobId, kind, words, until, source = '' } = wait;
  // Nobody waits for a virtual device.
  if (await q('jobs').where({ id: jobId, is_practice: true }).first('id')) return;
  await q('waits').where({ job_id: jobId, source }).whereNull('ended_at').update({ ended_at: q.fn.now() });
  await q('waits').insert({ job_id: jobId, kind, words, until_at: until, source });
}

/**
 * Lets a job wait.
 *
 * @throws {ExpectedError} for a moment that has passed, or a length that is none
 */
export async function addWait(input: WaitInput): Promise<void> {
  const kind = input.kind as WaitKind;
  const now = new Date();
  const problem = waitProblem(input.minutes, input.until, now);
  if (problem) throw new ExpectedError('input', problem);
  const until = input.until ?? (input.minutes === null ? null : new Date(now.getTime() + input.minutes * minute));
  await transaction(async (q) => {
    const job = await q('jobs').where({ id: input.jobId }).whereNull('deleted_at').first('id', 'closed_at');
    if (!job) throw missing(`Job ${input.jobId}`);
    if (job.closed_at !== null) throw new ExpectedError('input', 'This job is closed. Reopen it first.');
    await startWait(q, { jobId: input.jobId, kind, words: input.words, until });
    await release(q, input.jobId);
    await addAudit(q, input.jobId, `waits: ${waitWords({ kind, words: input.words })}`);
  });
}

/** What waits is in nobody's hands. */
async function release(q: Queries, jobId: number): Promise<void> {
  await q('takes').where({ job_id: jobId }).whereNull('ended_at').update({ ended_at: q.fn.now() });
}

/** Ends what a job waits for: all of it, one wait, or what began for a reason. */
export async function endWaits(
  q: Queries,
  jobId: number,
  only: { id?: number; source?: string } = {},
): Promise<number> {
  return (
    q('waits')
      .where({ job_id: jobId, ...only })
      .whereNull('ended_at')
      // A clock that was put back must not make a wait end before it began.
      .update({ ended_at: q.raw('greatest(now(), started_at)') })
  );
}

/** Ends the waits of a job by hand. */
export async function waitOver(jobId: number, id?: number): Promise<void> {
  await transaction(async (q) => {
    const running = await q('waits')
      .where({ job_id: jobId, ...(id === undefined ? {} : { id }) })
      .whereNull('ended_at')
      .select('kind');
    const ended = await endWaits(q, jobId, id === undefined ? {} : { id });
    if (ended > 0) await addAudit(q, jobId, 'wait ended');
    // What comes out of the bath dries before anything is powered.
    const next = running.flatMap(({ kind }) => waitTypes[kind as WaitKind].leadsTo ?? [])[0];
    if (!next) return;
    const { [next]: minutes } = await usualWaits(q);
    await startWait(q, {
      jobId,
      kind: next,
      words: '',
      until: new Date(Date.now() + minutes * minute),
      source: 'chain',
    });
    await addAudit(q, jobId, `waits: ${waitTypes[next].doing}`);
  });
}

/** Somebody has heard that a wait is over: no alarm rings for it any more, on any screen. */
export async function acknowledgeWait(id: number): Promise<void> {
  await transaction(async (q) => {
    await q('waits').where({ id }).whereNull('heard_at').update({ heard_at: q.fn.now() });
  });
}

/** Everything that runs, what is over first, then what runs out next; what nobody knows the end of last. */
export async function runningWaits(q: Queries): Promise<RunningWait[]> {
  const rows = (await q('waits')
    .join('jobs', 'jobs.id', 'waits.job_id')
    .whereNull('waits.ended_at')
    .where('jobs.is_practice', false)
    .whereNull('jobs.deleted_at')
    .whereNull('jobs.closed_at')
    .orderByRaw('waits.until_at ASC NULLS LAST, waits.id')
    .select('waits.*', 'jobs.label')) as (WaitRow & { label: string })[];
  return rows.map((row) => ({
    id: row.id,
    jobId: row.job_id,
    label: row.label,
    kind: row.kind,
    words: row.words,
    since: row.started_at.toISOString(),
    until: row.until_at?.toISOString() ?? null,
    heard: row.heard_at !== null,
  }));
}

/** Waits that were ended by hand, the newest first: how long such waits take here. */
export async function pastWaits(q: Queries): Promise<PastWait[]> {
  const rows = (await q('waits')
    .whereNotNull('ended_at')
    .orderBy('id', 'desc')
    .limit(pastLimit)
    .select('kind', q.raw('extract(epoch from ended_at - started_at)::float8 / 60 AS minutes'))) as PastWait[];
  return rows;
}

/** Minutes that waits of each kind take here, for forms and for the plan. */
export async function usualWaits(q: Queries): Promise<Record<WaitKind, number>> {
  const [past, { waits }] = [await pastWaits(q), await loadPolicy(q)];
  return Object.fromEntries(waitKinds.map((kind) => [kind, usualWait(kind, past, waits)])) as Record<WaitKind, number>;
}

/** The wait that a change usually begins, with how long it takes here; null for none. */
export async function waitFor(action: ActionKind): Promise<{ kind: WaitKind; minutes: number } | null> {
  const kind = waitAfter(action);
  return kind === null ? null : { kind, minutes: (await usualWaits(db()))[kind] };
}
