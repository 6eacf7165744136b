import { engineVersion } from '@umbral/core';
import { addAudit } from '../../record/audit.ts';
import { db, transaction } from '../../record/db.ts';
import { hasAnything, loadContent, makeDueVerdict, reassessJob } from '../jobs/jobs.ts';
import { asNobody } from '../../record/actor.ts';
import { describeAgain, deviceOf } from './record.ts';

/** Makes a verdict of the present engine; runs that an older one described are described anew first. */
export async function reassess(jobId: number): Promise<void> {
  await transaction(async (q) => {
    const content = await loadContent(q, jobId);
    if (!hasAnything(content)) return;
    for (const row of content.runs) await describeAgain(q, row, deviceOf(content));
    await reassessJob(q, jobId, 'reassessed');
  });
}

/** Open jobs whose last verdict an older engine made. */
export async function jobsWithOldVerdict(): Promise<number[]> {
  const { rows } = await db().raw<{ rows: { id: number }[] }>(
    `SELECT j.id FROM jobs j
     JOIN LATERAL (SELECT engine FROM assessments WHERE job_id = j.id ORDER BY id DESC LIMIT 1) a ON true
     WHERE NOT j.is_practice AND j.deleted_at IS NULL AND j.closed_at IS NULL AND a.engine <> ? ORDER BY j.id`,
    [engineVersion],
  );
  return rows.map((r) => r.id);
}

const under = new Set<number>();

/** So long a verdict may take that whoever entered something waits for, ms. */
const underWayMs = 15_000;

/**
 * Has the verdict of a job made behind its page where it is behind, and open pages follow the record: where the engine
 * failed when something was entered or the process ended before it answered, and, while somebody works on the engine, where
 * other sources made it. In a running shop a verdict of an older engine stays until somebody asks.
 */
export async function followUp(jobId: number): Promise<void> {
  if (under.has(jobId)) return;
  const job = await db()('jobs').where({ id: jobId }).first('changes', 'changes_judged', 'updated_at');
  const isDue = job && job.changes !== job.changes_judged && job.updated_at.getTime() < Date.now() - underWayMs;
  if (isDue) return behind(jobId, 'verdict made later', () => makeDueVerdict(jobId, 'made later'));
  if (process.env.NODE_ENV !== 'development') return;
  const last = await db()<{ engine: string }>('assessments').where('job_id', jobId).orderBy('id', 'desc').first();
  if (last && last.engine !== engineVersion) behind(jobId, 'reassessed', () => reassess(jobId));
}

function behind(jobId: number, what: string, work: () => Promise<void>): void {
  under.add(jobId);
  void asNobody(() => work().then(() => addAudit(db(), jobId, what, { engine: engineVersion })))
    // The page says itself that its verdict is behind.
    .catch(() => undefined)
    .finally(() => under.delete(jobId));
}
