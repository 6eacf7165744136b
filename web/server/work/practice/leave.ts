import type { Queries } from '../../record/db.ts';

/** What somebody showed in practice goes with them; nothing else does. */
export async function forgetLearner(q: Queries, personId: number): Promise<void> {
  const jobs = (await q('practice_units').where({ person_id: personId }).pluck('job_id')) as number[];
  await q('practice_calls').whereIn('job_id', jobs).delete();
  for (const table of ['practice_reviews', 'practice_lessons', 'practice_learners'] as const)
    await q(table).where({ person_id: personId }).delete();
  await q('jobs').whereIn('id', jobs).whereNull('deleted_at').update({ deleted_at: q.fn.now() });
}
