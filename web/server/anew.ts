import { engineVersion } from '@umbral/core';
import { audit } from './audit.ts';
import { db, transaction } from './db.ts';
import { hasAnything, loadContent, reassess } from './jobs.ts';
import { asNobody } from './people/actor.ts';
import { describeAnew, deviceOf } from './record.ts';

/** Makes a verdict of the present engine; runs that an older one described are described anew first. */
export async function assessAnew(jobId: number): Promise<void> {
  await transaction(async (q) => {
    const content = await loadContent(q, jobId);
    if (!hasAnything(content)) return;
    for (const row of content.runs) await describeAnew(q, row, deviceOf(content));
    await reassess(q, jobId, 'assessed anew');
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

/**
 * While somebody works on the engine, a page soon shows what it says now: the verdict of other sources is made anew behind
 * the page, and open pages follow the record. Does nothing in a running shop, where a verdict stays until somebody asks.
 */
export async function followSources(jobId: number): Promise<void> {
  if (process.env.NODE_ENV !== 'development' || under.has(jobId)) return;
  const last = await db()<{ engine: string }>('assessments').where('job_id', jobId).orderBy('id', 'desc').first();
  if (!last || last.engine === engineVersion) return;
  under.add(jobId);
  void asNobody(() => assessAnew(jobId).then(() => audit(db(), jobId, 'assessed anew', { engine: engineVersion })))
    // The page says itself that its verdict is of another engine.
    .catch(() => undefined)
    .finally(() => under.delete(jobId));
}
