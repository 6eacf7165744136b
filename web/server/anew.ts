import { engineVersion } from '@umbral/core';
import { db, transaction } from './db.ts';
import { hasAnything, loadContent, reassess } from './jobs.ts';
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
     WHERE j.deleted_at IS NULL AND j.closed_at IS NULL AND a.engine <> ? ORDER BY j.id`,
    [engineVersion],
  );
  return rows.map((r) => r.id);
}
