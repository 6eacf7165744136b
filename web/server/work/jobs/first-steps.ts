import type { Queries } from '../../record/db.ts';

/** What a new bench still has before it, as far as the record knows. */
export interface FirstSteps {
  /** Something that measures is connected, or a run was read off a display. */
  measures: boolean;
  /** A run of a healthy unit is kept as a reference. */
  hasReference: boolean;
  /** A device was taken in. */
  hasJob: boolean;
}

/** What was brought in as a sample is not the shop's own. */
export async function firstSteps(q: Queries): Promise<FirstSteps> {
  const { rows } = await q.raw<{ rows: FirstSteps[] }>(`
    WITH own AS (SELECT id FROM jobs WHERE NOT is_practice AND NOT is_sample)
    SELECT
      EXISTS (SELECT 1 FROM instruments WHERE spec->>'simulated' IS DISTINCT FROM 'true')
        OR EXISTS (SELECT 1 FROM runs JOIN own ON own.id = runs.job_id) AS measures,
      EXISTS (SELECT 1 FROM reference_runs f JOIN runs r ON r.id = f.run_id JOIN own ON own.id = r.job_id) AS "hasReference",
      EXISTS (SELECT 1 FROM own) AS "hasJob"`);
  return rows[0];
}
