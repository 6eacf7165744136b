import { json, type Queries } from './db.ts';

/** Notes in the record what was done; the record is never changed. */
export async function audit(q: Queries, jobId: number | null, what: string, detail: object = {}): Promise<void> {
  await q('audit').insert({ job_id: jobId, what, detail: json(detail) });
}
