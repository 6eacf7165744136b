import { json, type Queries } from './db.ts';
import { actor } from './actor.ts';

/** Notes in the record what was done and for whom; the record is never changed. */
export async function addAudit(q: Queries, jobId: number | null, what: string, detail: object = {}): Promise<void> {
  const who = actor();
  await q('audit').insert({
    job_id: jobId,
    what,
    detail: json(who?.token ? { ...detail, token: who.token } : detail),
    ...(who ? { person_id: who.person.id } : {}),
  });
}
