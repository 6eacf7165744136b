import {
  checkTypes,
  depthOf,
  isCheck,
  leadingShare,
  type CalledUnit,
  type CircuitId,
  type DeviceClass,
  type Profile,
  type Tally,
} from '@umbral/core';
import type { Queries } from '../../record/db.ts';
import type { PracticeCallRow } from '../../record/tables.ts';

/** A called unit with what is needed to sort it. */
export interface CalledRow extends CalledUnit {
  jobId: number;
  personId: number;
  deviceClass: DeviceClass;
  isFinished: boolean;
}

interface Row {
  job_id: number;
  person_id: number;
  device_class: DeviceClass;
  device: Profile;
  circuit: CircuitId;
  shares: PracticeCallRow['shares'];
  points: number;
  engine_points: number;
  test_points: number | null;
  final_points: number | null;
  final_engine_points: number | null;
  tally: Tally | null;
  finished_at: Date | null;
  created_at: Date;
  checks: string[] | null;
  probes: number;
  injections: number;
}

/** Every unit that was called, of one person or of all, the oldest first. */
export async function calledUnits(q: Queries, personId: number | null): Promise<CalledRow[]> {
  const { rows } = await q.raw<{ rows: Row[] }>(
    `SELECT u.job_id, u.person_id, j.device_class, u.circuit, c.shares, c.points, c.engine_points, c.test_points, c.final_points, c.final_engine_points, u.tally, u.finished_at,
       c.created_at,
       (SELECT array_agg(check_id) FROM checks WHERE job_id = u.job_id AND outcome IS NOT NULL) AS checks,
       (SELECT count(*)::int FROM readings WHERE job_id = u.job_id) AS probes,
       (SELECT count(*)::int FROM injections WHERE job_id = u.job_id) AS injections
     FROM practice_units u
     JOIN practice_calls c ON c.job_id = u.job_id
     JOIN jobs j ON j.id = u.job_id
     WHERE j.deleted_at IS NULL AND (?::int IS NULL OR u.person_id = ?)
     ORDER BY c.created_at, u.job_id`,
    [personId, personId],
  );
  return rows.map((row) => {
    const said = leadingShare(row.shares);
    return {
      jobId: row.job_id,
      personId: row.person_id,
      deviceClass: row.device_class,
      isFinished: row.finished_at !== null,
      circuit: row.circuit,
      said: said.circuit,
      sure: said.percent / 100,
      points: row.points,
      enginePoints: row.engine_points,
      testPoints: row.test_points,
      final: row.final_points === null ? null : { points: row.final_points, engine: row.final_engine_points ?? 0 },
      minutes: row.tally?.minutes ?? 0,
      probes: row.tally?.probes ?? row.probes,
      wasted: row.tally?.wasted ?? 0,
      depth: depthOfWork(row),
      risks: row.tally?.risks ?? [],
      at: row.created_at,
    };
  });
}

/** How deep a unit was opened, 0 to 5. */
function depthOfWork({ checks, probes, injections }: Row): number {
  const byCheck = (checks ?? []).map((id) => (isCheck(id) ? checkTypes[id].depth : 0));
  return Math.max(0, ...byCheck, probes > 0 ? depthOf.boardOut : 0, injections > 0 ? depthOf.heated : 0);
}
