import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { transaction } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';

export const orderInput = yup.object({
  /** Jobs that somebody put first, in their order; empty for none. */
  jobs: yup
    .array()
    .of(yup.number().integer().positive().required())
    .max(500, 'Order: expected at most 500 jobs')
    .default([]),
});

export const snoozeInput = yup.object({
  jobId: yup.number().integer().positive().required(),
  until: yup.date().typeError('Postpone until: expected a day and a time').nullable().default(null),
});

/** Puts jobs first, in this order, whatever the schedule says; those that were pinned and are not in it go where they fit. */
export async function pinJobs(jobs: readonly number[]): Promise<void> {
  const wanted = [...new Set(jobs)];
  await transaction(async (q) => {
    const known = (await q('jobs')
      .whereIn('id', wanted)
      .where({ is_practice: false })
      .whereNull('deleted_at')
      .whereNull('closed_at')
      .pluck('id')) as number[];
    const kept = wanted.filter((id) => known.includes(id));
    if (kept.length < wanted.length && kept.length === 0) throw missing(`Open job ${wanted[0]}`);
    const before = (await q('sheet_marks').whereNotNull('rank').orderBy('rank').pluck('job_id')) as number[];
    await q('sheet_marks').whereNotNull('rank').update({ rank: null });
    for (const [k, id] of kept.entries())
      await q('sheet_marks').insert({ job_id: id, rank: k }).onConflict('job_id').merge({ rank: k });
    for (const id of kept.filter((x) => !before.includes(x))) await addAudit(q, id, 'pinned on the run sheet');
    for (const id of before.filter((x) => !kept.includes(x))) await addAudit(q, id, 'unpinned on the run sheet');
  });
}

/**
 * Puts a job off until a moment; null to have it back.
 *
 * @throws {ExpectedError} for a moment that has passed
 */
export async function snoozeJob(jobId: number, until: Date | null): Promise<void> {
  if (until !== null && until <= new Date())
    throw new ExpectedError('input', 'Postpone until: that moment has passed.');
  await transaction(async (q) => {
    const job = await q('jobs').where({ id: jobId }).whereNull('deleted_at').whereNull('closed_at').first('id');
    if (!job) throw missing(`Open job ${jobId}`);
    await q('sheet_marks')
      .insert({ job_id: jobId, snoozed_until: until })
      .onConflict('job_id')
      .merge({ snoozed_until: until });
    await addAudit(q, jobId, until === null ? 'no longer postponed' : 'postponed');
  });
}
