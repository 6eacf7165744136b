import {
  dayOf,
  type WorkingHours,
  circuitNames,
  formatPercent,
  fullScaleA,
  patternNames,
  type Assessment,
  type CircuitId,
  type PatternId,
  type Run,
} from '@umbral/core';
import { db } from '@/server/record/db';
import { firstSteps, type FirstSteps } from '@/server/work/jobs/first-steps';
import { loadPolicy } from '@/server/work/shop/policy';
import { isDemo } from '@/server/work/people/demo';
import type { Preview } from '@/server/record/rows/run-rows';
import { deviceOfRow, type JobRow } from '@/server/record/rows';
import { yearProgress, type YearProgress } from '@/server/work/sample/year';
import { stateView } from '@/features/words';
import { silhouettePath, thinSheet } from '@/ui/silhouette';

export interface BenchJob {
  id: number;
  label: string;
  deviceClass: JobRow['device_class'];
  complaint: string;
  stage: string;
  /** The day of the shop's calendar; null for none. */
  dueOn: string | null;
  promisedAt: string | null;
  isOverdue: boolean;
  isHazard: boolean;
  call: string | null;
  pattern: string | null;
  silhouette: string;
}

interface Row extends JobRow {
  result: Assessment | null;
  preview: Preview | null;
  feed: Run['feed'] | null;
}

const latest = `
  SELECT j.*, a.result, r.preview, r.feed FROM jobs j
  LEFT JOIN LATERAL (SELECT result FROM assessments WHERE job_id = j.id ORDER BY id DESC LIMIT 1) a ON true
  LEFT JOIN LATERAL (SELECT preview, feed FROM runs WHERE job_id = j.id AND deleted_at IS NULL ORDER BY id DESC LIMIT 1) r ON true
  WHERE NOT j.is_practice AND j.deleted_at IS NULL AND j.closed_at IS NULL
  ORDER BY j.id`;

export interface Bench {
  jobs: BenchJob[];
  recalls: Recall[];
  closed: number;
  trashed: number;
  /** How far the loading of the made-up year is; null while none is under way. */
  sampleYear: YearProgress | null;
  /** What a new shop still has before it; null in the demo. */
  firstSteps: FirstSteps | null;
}

/** Open jobs as they are drawn on the bench, and what lies beside them. Their order is the run sheet's. */
export async function loadBench(now: Date): Promise<Bench> {
  const { rows } = await db().raw<{ rows: Row[] }>(latest);
  const closed = (await db()('call_sums').where({ by: 'all', key: '', what: 'closed' }).first('n'))?.n;
  const [{ trashed }] = await db()('jobs')
    .where({ is_practice: false })
    .whereNotNull('deleted_at')
    .count<{ trashed: string }[]>({ trashed: '*' });
  const { hours } = await loadPolicy(db());
  return {
    jobs: rows.map((row) => toBenchJob(row, now, hours)),
    recalls: await recallsOf(now),
    closed: Number(closed ?? 0),
    trashed: Number(trashed),
    sampleYear: yearProgress(),
    firstSteps: isDemo() ? null : await firstSteps(db()),
  };
}

/** A closed job that is to be looked at again. */
interface Recall {
  id: number;
  label: string;
  grade: NonNullable<JobRow['outcome_grade']>;
  /** Day, as YYYY-MM-DD. */
  on: string;
}

/** Days before its day that a recall is shown. */
const recallAheadDays = 7;
/** Recalls that are shown: those that are due first. */
const shownRecalls = 30;

async function recallsOf(now: Date): Promise<Recall[]> {
  const until = new Date(now.getTime() + recallAheadDays * 86_400_000);
  return db()('jobs')
    .where({ is_practice: false })
    .whereNull('deleted_at')
    .whereNotNull('closed_at')
    .where('recall_at', '<=', until)
    .orderBy('recall_at')
    .limit(shownRecalls)
    .select<Recall[]>('id', 'label', { grade: 'outcome_grade' }, db().raw(`to_char(recall_at, 'YYYY-MM-DD') AS "on"`));
}

function toBenchJob(row: Row, now: Date, hours: WorkingHours): BenchJob {
  const top = row.result?.circuits[0] ?? null;
  const run = row.result?.runs.at(-1)?.pattern[0] ?? null;
  const state = stateView(row.result);
  // Before anything was changed, and while it fails as it did, what counts is what it most likely is.
  const isSuspected = !state || state.id === 'not-changed' || state.id === 'same-fault';
  const isPast = (date: Date | null): boolean => date !== null && date < now;
  return {
    id: row.id,
    label: row.label,
    deviceClass: row.device_class,
    complaint: row.complaint,
    stage: row.stage,
    dueOn: row.due_at && dayOf(hours, row.due_at),
    promisedAt: row.promised_at?.toISOString() ?? null,
    isOverdue: isPast(row.due_at) || isPast(row.promised_at),
    isHazard: row.intake.batterySwollen && !row.intake.batteryIsolated,
    call: !isSuspected ? state.sentence : top ? `${circuitNames[top.id as CircuitId]} ${formatPercent(top.p)}` : null,
    pattern: run ? patternNames[run.id as PatternId] : null,
    silhouette: row.preview
      ? silhouettePath(thinSheet(row.preview.mean), row.feed ? fullScaleA(deviceOfRow(row), row.feed) : 0)
      : '',
  };
}
