import {
  circuitNames,
  fullScaleA,
  patternNames,
  type Assessment,
  type CircuitId,
  type PatternId,
  type Run,
} from '@umbral/core';
import { db } from '@/server/db';
import type { Preview } from '@/server/analysis/protocol';
import { deviceOfRow, type JobRow } from '@/server/rows';
import { thin } from '@/features/bench/queries';
import { silhouettePath } from '@/ui/silhouette';

export interface AtlasCase {
  id: number;
  label: string;
  model: string;
  deviceClass: JobRow['device_class'];
  grade: NonNullable<JobRow['outcome_grade']>;
  circuit: CircuitId | null;
  circuitName: string | null;
  target: string;
  fix: string;
  pattern: string | null;
  patternId: PatternId | null;
  /** Place of the confirmed circuit in the call that was in force at opening; null where there is none to compare. */
  rank: number | null;
  silhouette: string;
  closedAt: string;
}

interface Row extends JobRow {
  result: Assessment | null;
}

const healthy = ['quiet', 'normal-start', 'charge-normal', 'voltage-steady'];

/** Closed cases with the run that shows the fault best, newest first. */
export async function loadAtlas(): Promise<AtlasCase[]> {
  const { rows } = await db().raw<{
    rows: (Row & { runs: { preview: Preview; run_key: string; feed: Run['feed'] }[] | null })[];
  }>(`
    SELECT j.*, coalesce(o.result, a.result) AS result,
      (SELECT json_agg(json_build_object('preview', json_build_object('mean', r.preview->'mean'), 'run_key', r.run_key, 'feed', r.feed) ORDER BY r.id)
       FROM runs r WHERE r.job_id = j.id AND r.deleted_at IS NULL AND r.after_action IS NULL) AS runs
    FROM jobs j
    LEFT JOIN LATERAL (SELECT s.result FROM openings p JOIN assessments s ON s.id = p.assessment_id WHERE p.job_id = j.id) o ON true
    LEFT JOIN LATERAL (SELECT result FROM assessments WHERE job_id = j.id ORDER BY id DESC LIMIT 1) a ON true
    WHERE j.closed_at IS NOT NULL AND j.deleted_at IS NULL
    ORDER BY j.closed_at DESC, j.id DESC
    LIMIT 500`);
  return rows.map((row) => {
    const shown =
      row.result?.runs.findLast((r) => !healthy.includes(r.pattern[0]?.id ?? '')) ?? row.result?.runs.at(-1) ?? null;
    const run = row.runs?.find((r) => r.run_key === shown?.id) ?? null;
    const pattern = (shown?.pattern[0]?.id ?? null) as PatternId | null;
    const rank =
      row.result && row.outcome_circuit ? row.result.circuits.findIndex((c) => c.id === row.outcome_circuit) : -1;
    return {
      id: row.id,
      label: row.label,
      model: row.model,
      deviceClass: row.device_class,
      grade: row.outcome_grade!,
      circuit: row.outcome_circuit,
      circuitName: row.outcome_circuit ? circuitNames[row.outcome_circuit] : null,
      target: row.outcome_target,
      fix: row.outcome_fix,
      pattern: pattern ? patternNames[pattern] : null,
      patternId: pattern,
      rank: rank < 0 ? null : rank + 1,
      silhouette: run ? silhouettePath(thin(run.preview.mean), fullScaleA(deviceOfRow(row), run.feed)) : '',
      closedAt: row.closed_at!.toISOString(),
    };
  });
}
