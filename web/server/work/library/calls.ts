import {
  actionsThat,
  activeMinutes,
  countsOf,
  gradeTypes,
  patternTypes,
  topPattern,
  type Assessment,
  type CallSums,
  type FrozenCall,
  type ScorecardGroup,
} from '@umbral/core';
import type { Knex } from 'knex';
import { afterCommit, json, type Queries } from '../../record/db.ts';
import type { CallRow, JobRow } from '../../record/tables.ts';
import { correctIfDue } from './correction.ts';

/** A closed job with its call, as the scorecard shows it. */
export interface ShopCall extends FrozenCall {
  label: string;
  circuits: { id: FrozenCall['circuits'][number]['id']; p: number; element: string | null; uncorrected: number }[];
}

type Found = Pick<
  JobRow,
  'id' | 'device_class' | 'model' | 'technician' | 'outcome_grade' | 'outcome_circuit' | 'outcome_target' | 'closed_at'
> & {
  assessment: number | null;
  engine: string | null;
  circuits: CallRow['circuits'] | null;
  runs: Pick<Assessment['runs'][number], 'pattern'>[] | null;
  pattern_alone: number | null;
  taught: string | null;
  called_at: Date | null;
  entries: string[] | null;
  probes: number;
  repairs: boolean;
  /** How often each part was taken, by its number. */
  parts: Record<string, number> | null;
};

/**
 * Closed jobs with the call that was in force when each was opened or, where nothing inside was ever touched, when it was
 * closed. Calls never change, so what came out later says nothing to them.
 */
const found = `
  SELECT j.id, j.device_class, j.model, j.technician, j.outcome_grade, j.outcome_circuit, j.outcome_target,
    j.closed_at, a.id AS assessment, a.engine, a.created_at AS called_at, c.pattern_alone, c.circuit AS taught,
    (SELECT jsonb_agg(jsonb_build_object('id', x->'id', 'p', x->'p', 'element', x->'target', 'uncorrected', coalesce(x->'uncorrected', x->'p')))
      FROM jsonb_array_elements(a.result->'circuits') x) AS circuits,
    (SELECT jsonb_agg(jsonb_build_object('pattern', x->'pattern')) FROM jsonb_array_elements(a.result->'runs') x) AS runs,
    (SELECT count(*)::int FROM readings r WHERE r.job_id = j.id AND r.deleted_at IS NULL) AS probes,
    EXISTS (SELECT FROM actions WHERE job_id = j.id AND kind = ANY(?)) AS repairs,
    (SELECT jsonb_object_agg(m.part_id, m.times) FROM (SELECT part_id, count(*) AS times FROM part_moves
      WHERE job_id = j.id AND why = 'taken' GROUP BY part_id) m) AS parts,
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
  WHERE j.id = ANY(?) AND NOT j.is_practice AND j.closed_at IS NOT NULL AND j.deleted_at IS NULL
  ORDER BY j.id`;

/**
 * Keeps what the calls of closed jobs count for as the jobs are now; those of jobs that are open, in the trash or not the
 * shop's are taken off. The sums follow by themselves, and are held from here to the end of the transaction: last in it.
 */
export async function countCalls(q: Queries, jobIds: readonly number[]): Promise<void> {
  const { rows } = (await q.raw(found, [[...actionsThat('isRepair')], [...jobIds]])) as { rows: Found[] };
  const counted = await q('calls').whereIn('job_id', jobIds).pluck('job_id');
  if (counted.length + rows.length === 0) return;
  // Whoever changes what was learned holds this row first and the sums then: in another order two would wait for each other.
  await q('library_state')
    .where({ id: 1 })
    .update({ unfitted: q.raw('unfitted + ?', [jobIds.length]) });
  await q('calls').whereIn('job_id', jobIds).delete();
  if (rows.length > 0) await q('calls').insert(rows.map(callRow) as never);
  await afterCommit(q, 'adjustment of percentages', correctIfDue);
}

function callRow(row: Found) {
  const grade = row.outcome_grade ?? 'not-found';
  const { isConfirmed } = gradeTypes[grade];
  const entries = (row.entries ?? []).map((at) => new Date(at));
  const patterns = (row.runs ?? []).map((r) => topPattern(r.pattern));
  const calledAt = row.called_at;
  const circuits = row.circuits ?? [];
  const call: FrozenCall = {
    job: row.id,
    circuits,
    grade,
    // Confirmed as two things it is known as neither.
    circuit: isConfirmed && row.taught === null ? null : row.outcome_circuit,
    element: row.outcome_target,
    pattern: patterns.find((p) => patternTypes[p].healthyWhen === undefined) ?? patterns[0] ?? null,
    deviceClass: row.device_class,
    model: row.model,
    technician: row.technician,
    month: row.closed_at?.toISOString().slice(0, 7) ?? '',
    engine: row.engine ?? '',
    patternAlone: row.pattern_alone,
    minutesToCall: calledAt ? activeMinutes(entries.filter((at) => at <= calledAt)) : null,
    minutesToCause: activeMinutes(entries),
    probes: row.probes,
  };
  const counts = countsOf(call);
  if (row.repairs && row.outcome_circuit !== null) {
    counts.set(`repair ${row.outcome_circuit}`, 0);
    if (grade === 'measured' || grade === 'cleared') counts.set(`repaired ${row.outcome_circuit}`, 0);
  }
  for (const [part, times] of Object.entries(row.parts ?? {}))
    if (row.outcome_circuit !== null) counts.set(`took ${part} ${row.outcome_circuit}`, times);
  return {
    job_id: row.id,
    closed_at: row.closed_at,
    month: call.month,
    device_class: call.deviceClass,
    model: call.model,
    technician: call.technician,
    engine: call.engine,
    assessment_id: row.assessment,
    grade,
    circuit: call.circuit,
    element: call.element,
    pattern: call.pattern,
    pattern_alone: call.patternAlone,
    circuits: json(circuits),
    minutes_to_call: call.minutesToCall,
    minutes_to_cause: call.minutesToCause,
    probes: call.probes,
    counts: json(Object.fromEntries(counts)),
  };
}

/** Jobs that are counted at once where none was counted before. */
const atOnce = 200;

/**
 * Counts closed jobs that nobody counted yet: those of a record from before calls were counted. Each step is kept by itself.
 *
 * @returns how many there were
 */
export async function countMissing(q: Queries): Promise<number> {
  for (let counted = 0; ;) {
    const { rows } = (await q.raw(
      `SELECT j.id FROM jobs j WHERE NOT j.is_practice AND j.closed_at IS NOT NULL AND j.deleted_at IS NULL
        AND NOT EXISTS (SELECT FROM calls c WHERE c.job_id = j.id) ORDER BY j.id LIMIT ?`,
      [atOnce],
    )) as { rows: { id: number }[] };
    if (rows.length === 0) return counted;
    await countCalls(
      q,
      rows.map((r) => r.id),
    );
    counted += rows.length;
  }
}

type SumRow = { key: string; what: string; n: number; sum: number };

/** What all closed jobs add up to. */
export async function sumsOfAll(q: Queries): Promise<CallSums> {
  const rows = await sumsBy(q, 'all');
  return new Map(rows.map(({ what, n, sum }) => [what, { n, sum }]));
}

/**
 * What closed jobs add up to by something that calls are told apart by, those with most calls first.
 *
 * @param limit groups at most
 */
export async function sumsByGroup(q: Queries, group: ScorecardGroup, limit: number): Promise<Map<string, CallSums>> {
  const largest = q('call_sums')
    .where({ by: group, what: 'closed' })
    .where('n', '>', 0)
    .orderBy([{ column: 'n', order: 'desc' }, 'key'])
    .limit(limit)
    .select('key');
  const rows = await sumsBy(q, group, largest);
  const groups = new Map<string, Map<string, { n: number; sum: number }>>();
  for (const { key, what, n, sum } of rows)
    groups.set(key, (groups.get(key) ?? new Map<string, { n: number; sum: number }>()).set(what, { n, sum }));
  return groups;
}

async function sumsBy(q: Queries, by: string, keys?: Knex.QueryBuilder): Promise<SumRow[]> {
  const list = q('call_sums').where({ by }).where('n', '>', 0).select('key', 'what', q.raw('n::int AS n'), 'sum');
  return (await (keys ? list.whereIn('key', keys as never) : list)) as unknown as SumRow[];
}

/** Which calls are asked for: those that count for something, in a group where one is named. */
export interface CallsAsked {
  counted: string;
  group: { by: ScorecardGroup; key: string } | null;
  /** Number of the job that those asked for follow in the list; null for the first. */
  after: number | null;
}

const groupColumns = {
  pattern: 'pattern',
  class: 'device_class',
  model: 'model',
  technician: 'technician',
  month: 'month',
  engine: 'engine',
} as const satisfies Record<ScorecardGroup, keyof CallRow>;

/** The calls behind a figure, the newest first. */
export async function callsCounted(
  q: Queries,
  { counted, group, after }: CallsAsked,
  limit: number,
): Promise<ShopCall[]> {
  const list = q('calls as c')
    .join('jobs as j', 'j.id', 'c.job_id')
    .whereRaw('c.counts \\? ?', [counted])
    .orderBy([
      { column: 'c.closed_at', order: 'desc' },
      { column: 'c.job_id', order: 'desc' },
    ])
    .limit(limit)
    .select('c.*', 'j.label');
  if (group?.by === 'pattern' && group.key === '') void list.whereNull('c.pattern');
  else if (group) void list.where(`c.${groupColumns[group.by]}`, group.key);
  if (after !== null)
    void list.whereRaw('(c.closed_at, c.job_id) < (SELECT closed_at, job_id FROM calls WHERE job_id = ?)', [after]);
  return ((await list) as (CallRow & { label: string })[]).map(shopCall);
}

function shopCall(row: CallRow & { label: string }): ShopCall {
  return {
    job: row.job_id,
    label: row.label,
    circuits: row.circuits,
    grade: row.grade,
    circuit: row.circuit,
    element: row.element,
    pattern: row.pattern,
    deviceClass: row.device_class,
    model: row.model,
    technician: row.technician,
    month: row.month,
    engine: row.engine,
    patternAlone: row.pattern_alone,
    minutesToCall: row.minutes_to_call,
    minutesToCause: row.minutes_to_cause,
    probes: row.probes,
  };
}
