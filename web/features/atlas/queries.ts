import type { CircuitId, DeviceClass, OutcomeGrade, PatternId, Shape } from '@umbral/core';
import * as engine from '@/server/analysis/engine';
import { db, type Queries } from '@/server/db';
import { loadContent } from '@/server/jobs';
import { libraryKeyOf, loadLibrary } from '@/server/library/known';
import { caseOf } from '@/server/rows';
import { packOutline } from './outline';

/** A confirmed case as the atlas draws it: small, since there may be ten thousand. */
export interface AtlasCase {
  /** Number of the job; null for one of another shop. */
  job: number | null;
  /** Name of that shop; empty for this one. */
  origin: string;
  model: string;
  deviceClass: DeviceClass;
  circuit: CircuitId;
  element: string;
  grade: OutcomeGrade;
  pattern: PatternId | null;
  technician: string;
  /** ISO 8601, the day. */
  on: string;
  /** The run that shows it best: see `packOutline`. */
  outline: string;
  /** Place of the circuit in the call that was in force at opening; null where there was none. */
  rank: number | null;
  /** How alike it is to the job at hand, 0 to 1; null where none is named, or nothing can be held against each other. */
  likeness: number | null;
}

interface Row {
  case_key: string;
  job_id: number | null;
  shop: string | null;
  model: string;
  device_class: DeviceClass;
  circuit: CircuitId;
  element: string;
  grade: OutcomeGrade;
  pattern: PatternId | null;
  technician: string | null;
  closed_at: Date;
  outline: number[] | null;
  rank: number | null;
}

/** Every confirmed case, newest first; the nearest to a job first where one is named. */
export async function loadAtlas(job: number | null): Promise<AtlasCase[]> {
  const q = db();
  const { rows } = (await q.raw(`
    SELECT c.case_key, c.job_id, l.shop, c.model, c.device_class, c.circuit, c.element, c.grade, c.pattern, j.technician, c.closed_at, r.outline, f.rank
    FROM library_cases c
    LEFT JOIN jobs j ON j.id = c.job_id
    LEFT JOIN libraries l ON l.id = c.library_id
    LEFT JOIN LATERAL (SELECT outline FROM library_runs WHERE case_id = c.id
      ORDER BY (pattern IS NOT DISTINCT FROM c.pattern) DESC, id LIMIT 1) r ON true
    LEFT JOIN LATERAL (SELECT x.place::int AS rank FROM openings o JOIN assessments a ON a.id = o.assessment_id,
      jsonb_array_elements(a.result->'circuits') WITH ORDINALITY x(circuit, place)
      WHERE o.job_id = c.job_id AND x.circuit->>'id' = c.circuit LIMIT 1) f ON true
    WHERE j.deleted_at IS NULL
    ORDER BY c.closed_at DESC, c.id DESC`)) as { rows: Row[] };
  const near = job === null ? null : await nearTo(q, job);
  const cases = rows.map((row) => atlasCase(row, near?.get(row.case_key) ?? null));
  return near ? cases.sort((a, b) => (b.likeness ?? -1) - (a.likeness ?? -1)) : cases;
}

function atlasCase(row: Row, likeness: number | null): AtlasCase {
  return {
    job: row.job_id,
    origin: row.shop ?? '',
    model: row.model,
    deviceClass: row.device_class,
    circuit: row.circuit,
    element: row.element,
    grade: row.grade,
    pattern: row.pattern,
    technician: row.technician ?? '',
    on: row.closed_at.toISOString().slice(0, 10),
    outline: packOutline(row.outline ?? []),
    rank: row.rank,
    likeness,
  };
}

/** How alike every case is to a job, by its key in the library. */
async function nearTo(q: Queries, jobId: number): Promise<Map<string, number>> {
  const content = await loadContent(q, jobId);
  const shapes = new Map<string, Shape>(content.runs.map((r) => [r.run_key, r.shape]));
  const known = await loadLibrary(q);
  const library = { known, without: await libraryKeyOf(q, jobId), before: null };
  return new Map(await engine.likeness(caseOf(content), shapes, library));
}
