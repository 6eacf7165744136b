import { activeMinutes, gradeTypes, topPattern, patternTypes, type Assessment, type FrozenCall } from '@umbral/core';
import type { Queries } from '../db.ts';
import { loadPolicy } from '../policy.ts';
import type { JobRow } from '../tables.ts';

/** A closed job with its call, as the scorecard and the recalibration take it. */
export interface ShopCall extends FrozenCall {
  label: string;
  /** Number of the assessment that was frozen; null where nothing was ever called. */
  assessment: number | null;
  /** The cause is confirmed, by one person or by all of them alike. */
  isConfirmed: boolean;
  circuits: { id: FrozenCall['circuits'][number]['id']; p: number; element: string | null; uncorrected: number }[];
}

type Row = Pick<
  JobRow,
  | 'id'
  | 'label'
  | 'device_class'
  | 'model'
  | 'technician'
  | 'outcome_grade'
  | 'outcome_circuit'
  | 'outcome_target'
  | 'closed_at'
> & {
  assessment: number | null;
  engine: string | null;
  circuits: Assessment['circuits'] | null;
  runs: Pick<Assessment['runs'][number], 'pattern'>[] | null;
  pattern_alone: number | null;
  taught: string | null;
  called_at: Date | null;
  entries: string[] | null;
  probes: number;
};

/**
 * Every closed job with the call that was in force when it was opened or, where nothing inside was ever touched, when it was
 * closed. Calls never change, so what came out later says nothing to them.
 */
export async function frozenCalls(q: Queries): Promise<ShopCall[]> {
  const { hourlyCost } = await loadPolicy(q);
  const { rows } = (await q.raw(`
    SELECT j.id, j.label, j.device_class, j.model, j.technician, j.outcome_grade, j.outcome_circuit, j.outcome_target,
      j.closed_at, a.id AS assessment, a.engine, a.created_at AS called_at, c.pattern_alone, c.circuit AS taught,
      (SELECT jsonb_agg(jsonb_build_object('id', x->'id', 'p', x->'p', 'target', x->'target', 'uncorrected', x->'uncorrected'))
        FROM jsonb_array_elements(a.result->'circuits') x) AS circuits,
      (SELECT jsonb_agg(jsonb_build_object('pattern', x->'pattern')) FROM jsonb_array_elements(a.result->'runs') x) AS runs,
      (SELECT count(*)::int FROM readings r WHERE r.job_id = j.id AND r.deleted_at IS NULL) AS probes,
      (SELECT array_agg(e.at) FROM (
        SELECT created_at AS at FROM runs WHERE job_id = j.id AND deleted_at IS NULL
        UNION ALL SELECT created_at FROM checks WHERE job_id = j.id AND deleted_at IS NULL
        UNION ALL SELECT created_at FROM readings WHERE job_id = j.id AND deleted_at IS NULL
        UNION ALL SELECT created_at FROM injections WHERE job_id = j.id AND deleted_at IS NULL
        UNION ALL SELECT created_at FROM actions WHERE job_id = j.id) e) AS entries
    FROM jobs j
    LEFT JOIN LATERAL (
      SELECT s.* FROM assessments s
      LEFT JOIN openings o ON o.job_id = j.id
      WHERE s.job_id = j.id AND (CASE WHEN o.assessment_id IS NULL THEN s.created_at <= j.closed_at ELSE s.id = o.assessment_id END)
      ORDER BY s.id DESC LIMIT 1) a ON true
    LEFT JOIN library_cases c ON c.job_id = j.id
    WHERE NOT j.is_practice AND j.closed_at IS NOT NULL AND j.deleted_at IS NULL
    ORDER BY j.closed_at, j.id`)) as { rows: Row[] };
  return rows.map((row) => shopCall(row, hourlyCost));
}

function shopCall(row: Row, hourlyCost: number): ShopCall {
  const grade = row.outcome_grade ?? 'not-found';
  const entries = (row.entries ?? []).map((at) => new Date(at));
  const patterns = (row.runs ?? []).map((r) => topPattern(r.pattern));
  const minutes = activeMinutes(entries);
  const calledAt = row.called_at;
  return {
    job: row.id,
    label: row.label,
    assessment: row.assessment,
    isConfirmed: gradeTypes[grade].isConfirmed && row.taught !== null,
    circuits: (row.circuits ?? []).map(({ id, p, target, uncorrected }) => ({
      id,
      p,
      element: target,
      uncorrected: uncorrected ?? p,
    })),
    grade,
    // Confirmed as two things it is known as neither.
    circuit: gradeTypes[grade].isConfirmed && row.taught === null ? null : row.outcome_circuit,
    element: row.outcome_target,
    pattern: patterns.find((p) => patternTypes[p].healthyWhen === undefined) ?? patterns[0] ?? null,
    deviceClass: row.device_class,
    model: row.model,
    technician: row.technician,
    month: row.closed_at?.toISOString().slice(0, 7) ?? '',
    engine: row.engine ?? '',
    patternAlone: row.pattern_alone,
    minutesToCall: calledAt ? activeMinutes(entries.filter((at) => at <= calledAt)) : null,
    minutesToCause: minutes,
    probes: row.probes,
    cost: minutes === null ? null : (minutes / 60) * hourlyCost,
  };
}
