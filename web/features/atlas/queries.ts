import type { CircuitId, DeviceClass, OutcomeGrade, PatternId, Shape } from '@umbral/core';
import * as yup from 'yup';
import * as engine from '@/server/analysis/engine';
import { db, type Queries } from '@/server/record/db';
import { loadContent } from '@/server/work/jobs/jobs';
import { libraryKeyOf, loadLibrary } from '@/server/analysis/known-library';
import { searchQuery } from '@/features/notebook/ask';
import { stoodNear, tellsWord } from '@/server/work/library/words';
import { caseOf } from '@/server/record/rows';
import { outlinePath, packOutline, typicalOutline } from './outline';

/** What cases can be told apart by, with the column of each. */
const columns = {
  pattern: 'pattern',
  circuit: 'circuit',
  deviceClass: 'device_class',
  model: 'model',
  grade: 'grade',
  technician: 'technician',
  origin: 'origin',
} as const;
export type AtlasFilter = keyof typeof columns;
const filters = Object.keys(columns) as AtlasFilter[];

/** A confirmed case as the atlas draws it. */
export interface AtlasCase {
  id: number;
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
  /** ISO 8601, the day. */
  on: string;
  /** The run that shows it best: see `packOutline`. */
  outline: string;
  /** Place of the circuit in the call that was in force at opening; null where there was none. */
  rank: number | null;
  /** How alike it is to the job at hand, 0 to 1; null where none is named, or nothing can be held against each other. */
  likeness: number | null;
}

/** Some of the cases that fit what was asked. */
export interface AtlasPage {
  cases: AtlasCase[];
  hasMore: boolean;
  /** How many fit; null where there are more than anybody counts. */
  found: number | null;
}

/** What all confirmed cases can be told apart by. */
export interface AtlasOverview {
  total: number;
  values: Record<AtlasFilter, string[]>;
  /** Patterns that were met, the most frequent first, with the path of the typical silhouette of each. */
  patterns: { pattern: PatternId; count: number; path: string }[];
}

/** Cases that are shown at once; cases beyond which nobody is told how many there are. */
const atOnce = 60;
const countedUpTo = 1000;
/** Values of a filter that are offered. */
const maxValues = 300;
/** Runs that a typical silhouette is the middle of: the newest. */
const typicalOf = 40;

const value = yup.string().max(200).default('');

export const atlasAsked = yup.object({
  job: yup.number().integer().positive().nullable().default(null),
  text: yup.string().trim().max(200, 'Search: at most 200 characters').default(''),
  /** Number of the last case that is shown already. */
  after: yup.number().integer().positive().nullable().default(null),
  chosen: yup.object({
    pattern: value,
    circuit: value,
    deviceClass: value,
    model: value,
    grade: value,
    technician: value,
    origin: value,
  }),
});
type AtlasAsked = yup.InferType<typeof atlasAsked>;

interface Row {
  id: number;
  case_key: string;
  job_id: number | null;
  origin: string;
  model: string;
  device_class: DeviceClass;
  circuit: CircuitId;
  element: string;
  grade: OutcomeGrade;
  pattern: PatternId | null;
  closed_at: Date;
  outline: number[] | null;
  rank: number | null;
}

/** What there is to choose from. */
export async function loadOverview(): Promise<AtlasOverview> {
  const q = db();
  const counts = (await q('case_counts')
    .where('n', '>', 0)
    .orderBy('n', 'desc')
    .select('by', 'key', q.raw('n::int AS n'))) as unknown as { by: AtlasFilter; key: string; n: number }[];
  const of = (filter: AtlasFilter) => counts.filter((c) => c.by === filter);
  const met = of('pattern').filter((c) => c.key !== '');
  const { rows } = (await q.raw(
    `SELECT p.pattern, x.outline FROM unnest(?::text[]) AS p(pattern), LATERAL (
       SELECT (SELECT r.outline FROM library_runs r WHERE r.case_id = c.id
         ORDER BY (r.pattern IS NOT DISTINCT FROM c.pattern) DESC, r.id LIMIT 1) AS outline
       FROM library_cases c WHERE c.pattern = p.pattern ORDER BY c.closed_at DESC, c.id DESC LIMIT ?) x`,
    [met.map((c) => c.key), typicalOf],
  )) as { rows: { pattern: string; outline: number[] | null }[] };
  return {
    total: of('circuit').reduce((sum, c) => sum + c.n, 0),
    values: Object.fromEntries(
      filters.map((f) => [
        f,
        of(f)
          .flatMap((c) => (c.key === '' ? [] : [c.key]))
          .slice(0, maxValues),
      ]),
    ) as AtlasOverview['values'],
    patterns: met.map(({ key, n }) => ({
      pattern: key as PatternId,
      count: n,
      path: outlinePath(
        typicalOutline(rows.flatMap((r) => (r.pattern === key && r.outline ? [packOutline(r.outline)] : []))),
      ),
    })),
  };
}

/** Confirmed cases that fit, newest first; the nearest to a job first where one is named, and only those that are near. */
export async function loadAtlas(asked: AtlasAsked): Promise<AtlasPage> {
  const q = db();
  const near = asked.job === null ? null : await nearTo(q, asked.job);
  const fitting = () => {
    const list = q('library_cases as c');
    for (const f of filters) if (asked.chosen[f] !== '') void list.where(`c.${columns[f]}`, asked.chosen[f]);
    const { amps, volts, words } = searchQuery(asked.text);
    for (const word of words) void list.where((w) => tellsWord(w, word));
    stoodNear(list, amps, volts);
    if (near) void list.whereIn('c.case_key', [...near.keys()]);
    return list;
  };
  const list = fitting()
    .orderBy([
      { column: 'c.closed_at', order: 'desc' },
      { column: 'c.id', order: 'desc' },
    ])
    .select('c.id', 'c.case_key', 'c.job_id', 'c.origin', 'c.model', 'c.device_class', 'c.circuit', 'c.element')
    .select('c.grade', 'c.pattern', 'c.closed_at', q.raw(outlineOf), q.raw(rankOf));
  if (!near) void list.limit(atOnce + 1);
  if (asked.after !== null && !near)
    void list.whereRaw('(c.closed_at, c.id) < (SELECT closed_at, id FROM library_cases WHERE id = ?)', [asked.after]);
  const rows = (await list) as unknown as Row[];
  const counted = fitting()
    .select('c.id')
    .limit(countedUpTo + 1);
  const {
    rows: [{ count }],
  } = (await q.raw('SELECT count(*)::int AS count FROM ? x', [counted])) as {
    rows: { count: number }[];
  };
  const cases = rows
    .slice(0, near ? rows.length : atOnce)
    .map((row) => atlasCase(row, near?.get(row.case_key) ?? null));
  if (near) cases.sort((a, b) => (b.likeness ?? -1) - (a.likeness ?? -1));
  return {
    cases,
    hasMore: !near && rows.length > atOnce,
    found: count > countedUpTo ? null : count,
  };
}

const outlineOf = `(SELECT r.outline FROM library_runs r WHERE r.case_id = c.id
  ORDER BY (r.pattern IS NOT DISTINCT FROM c.pattern) DESC, r.id LIMIT 1) AS outline`;
const rankOf = `(SELECT x.place::int FROM openings o JOIN assessments a ON a.id = o.assessment_id,
  jsonb_array_elements(a.result->'circuits') WITH ORDINALITY x(circuit, place)
  WHERE o.job_id = c.job_id AND x.circuit->>'id' = c.circuit LIMIT 1) AS rank`;

function atlasCase(row: Row, likeness: number | null): AtlasCase {
  return {
    id: row.id,
    job: row.job_id,
    origin: row.origin,
    model: row.model,
    deviceClass: row.device_class,
    circuit: row.circuit,
    element: row.element,
    grade: row.grade,
    pattern: row.pattern,
    on: row.closed_at.toISOString().slice(0, 10),
    outline: packOutline(row.outline ?? []),
    rank: row.rank,
    likeness,
  };
}

/** How alike the nearest cases are to a job, by their keys in the library. */
async function nearTo(q: Queries, jobId: number): Promise<Map<string, number>> {
  const content = await loadContent(q, jobId);
  const shapes = new Map<string, Shape>(content.runs.map((r) => [r.run_key, r.shape]));
  const known = await loadLibrary(q);
  const library = { known, without: await libraryKeyOf(q, jobId), before: null };
  return new Map(await engine.likeness(caseOf(content), shapes, library));
}
