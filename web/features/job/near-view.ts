import { circuitNames, type NearCase } from '@umbral/core';
import type { Queries } from '@/server/record/db';
import type { JobContent } from '@/server/record/rows';
import { silhouettePath } from '@/ui/silhouette';

/** A confirmed case beside the present one. */
export interface NearView {
  /** Number of its job; null for a case of another shop. */
  job: number | null;
  says: string;
  circuit: string;
  element: string;
  likeness: number;
  p: number;
  isOtherModel: boolean;
  alike: string[];
  differs: string[];
  /** Silhouettes of the two runs on one scale; empty where there is none to draw. */
  here: string;
  there: string;
  runHere: string;
}

/** Cases on one page. */
const shown = 3;

/** The nearest confirmed cases with their silhouettes over the present one. */
export async function nearViews(q: Queries, near: readonly NearCase[], { runs }: JobContent): Promise<NearView[]> {
  const cases = near.slice(0, shown);
  const rows = await q('library_cases as c')
    .join('library_runs as r', 'r.case_id', 'c.id')
    .whereIn(
      'c.case_key',
      cases.map((c) => c.id),
    )
    .select<{ case_key: string; job_id: number | null; run_key: string; outline: number[] }[]>(
      'c.case_key',
      'c.job_id',
      'r.run_key',
      'r.outline',
    );
  return cases.map((c) => {
    const [pair] = c.runs;
    const row = rows.find((r) => r.case_key === c.id && r.run_key === pair?.there);
    const here = runs.find((r) => r.run_key === pair?.here)?.preview.mean ?? [];
    const full = Math.max(0, ...here.map((x) => x ?? 0), ...(row?.outline ?? []));
    return {
      job: rows.find((r) => r.case_key === c.id)?.job_id ?? null,
      says: c.says,
      circuit: circuitNames[c.circuit],
      element: c.element,
      likeness: c.likeness,
      p: c.p,
      isOtherModel: c.isOtherModel,
      alike: c.alike,
      differs: c.differs,
      here: silhouettePath(here, full),
      there: silhouettePath(row?.outline ?? [], full),
      runHere: pair?.here ?? '',
    };
  });
}
