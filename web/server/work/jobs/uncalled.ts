import type { Queries } from '../../record/db.ts';

/** Whether the verdict on a job is to be kept from whoever looks: a practice unit that was not called. */
export async function isUncalled(q: Queries, jobId: number): Promise<boolean> {
  const unit = await q('practice_units').where({ job_id: jobId, finished_at: null }).first('job_id');
  if (!unit) return false;
  return (await q('practice_calls').where({ job_id: jobId }).first('job_id')) === undefined;
}
