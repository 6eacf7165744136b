import {
  circuitNames,
  formatPercent,
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
import { nextName } from '@/features/job/next-name';
import { silhouettePath } from '@/ui/silhouette';

export interface BenchJob {
  id: number;
  label: string;
  deviceClass: JobRow['device_class'];
  complaint: string;
  stage: string;
  dueAt: string | null;
  isOverdue: boolean;
  waitingFor: string | null;
  waitingUntil: string | null;
  hazard: boolean;
  call: string | null;
  pattern: string | null;
  next: string | null;
  nextMinutes: number | null;
  why: string;
  silhouette: string;
  updatedAt: string;
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
  WHERE j.deleted_at IS NULL AND j.closed_at IS NULL
  ORDER BY j.id`;

/** Open jobs: what can be done now, in the recommended order, and what waits. */
export async function loadBench(
  now: Date,
): Promise<{ ready: BenchJob[]; waiting: BenchJob[]; recalls: Recall[]; closed: number; trashed: number }> {
  const { rows } = await db().raw<{ rows: Row[] }>(latest);
  const counts = await db()('jobs')
    .count({
      closed: db().raw('CASE WHEN closed_at IS NOT NULL AND deleted_at IS NULL THEN 1 END'),
      trashed: db().raw('CASE WHEN deleted_at IS NOT NULL THEN 1 END'),
    })
    .first();
  const jobs = rows.map((row) => toBenchJob(row, now));
  const isWaiting = (j: BenchJob): boolean =>
    j.waitingFor !== null && (j.waitingUntil === null || new Date(j.waitingUntil) > now);
  const ready = jobs.filter((j) => !isWaiting(j)).sort((a, b) => urgency(a, now) - urgency(b, now) || a.id - b.id);
  const waiting = jobs.filter(isWaiting).sort((a, b) => (a.waitingUntil ?? '9').localeCompare(b.waitingUntil ?? '9'));
  return {
    ready,
    waiting,
    recalls: await recallsOf(now),
    closed: Number(counts?.closed ?? 0),
    trashed: Number(counts?.trashed ?? 0),
  };
}

/** A closed job that is to be looked at again. */
export interface Recall {
  id: number;
  label: string;
  grade: NonNullable<JobRow['outcome_grade']>;
  /** Day, as YYYY-MM-DD. */
  on: string;
}

/** Days before its day that a recall is shown. */
const recallAheadDays = 7;

async function recallsOf(now: Date): Promise<Recall[]> {
  const until = new Date(now.getTime() + recallAheadDays * 86_400_000);
  return db()('jobs')
    .whereNull('deleted_at')
    .whereNotNull('closed_at')
    .where('recall_at', '<=', until)
    .orderBy('recall_at')
    .select<Recall[]>('id', 'label', { grade: 'outcome_grade' }, db().raw(`to_char(recall_at, 'YYYY-MM-DD') AS "on"`));
}

/** Hazards first, then by due date, then what needs the fewest minutes. Smaller is sooner. */
function urgency(job: BenchJob, now: Date): number {
  if (job.hazard) return -1e9;
  const due = job.dueAt === null ? 30 : (new Date(job.dueAt).getTime() - now.getTime()) / 86_400_000;
  return due + Math.min(job.nextMinutes ?? 5, 60) / 100;
}

function toBenchJob(row: Row, now: Date): BenchJob {
  const top = row.result?.circuits[0] ?? null;
  const run = row.result?.runs.at(-1)?.pattern[0] ?? null;
  const next = row.result?.next[0] ?? null;
  const works = Boolean(row.result?.proof) && row.result?.now?.[0]?.id === 'works';
  const overdue = row.due_at !== null && row.due_at < now;
  const returned = row.waiting_for !== null && row.waiting_until !== null && row.waiting_until <= now;
  return {
    id: row.id,
    label: row.label,
    deviceClass: row.device_class,
    complaint: row.complaint,
    stage: row.stage,
    dueAt: row.due_at?.toISOString() ?? null,
    isOverdue: overdue,
    waitingFor: row.waiting_for,
    waitingUntil: row.waiting_until?.toISOString() ?? null,
    hazard: row.intake.batterySwollen && !row.intake.batteryIsolated,
    call: works ? 'It works now' : top ? `${circuitNames[top.id as CircuitId]} ${formatPercent(top.p)}` : null,
    pattern: run ? patternNames[run.id as PatternId] : null,
    next: next ? nextName(next) : 'Record a first run',
    nextMinutes: next?.minutes ?? 3,
    why: whyNow(row, overdue, returned),
    silhouette: row.preview
      ? silhouettePath(thin(row.preview.mean), row.feed ? fullScaleA(deviceOfRow(row), row.feed) : 0)
      : '',
    updatedAt: row.updated_at.toISOString(),
  };
}

function whyNow(row: Row, overdue: boolean, returned: boolean): string {
  if (row.intake.batterySwollen && !row.intake.batteryIsolated) return 'hazard: swollen battery';
  if (overdue) return 'overdue';
  if (returned) return `wait over: ${row.waiting_for}`;
  if (row.due_at !== null) return 'by due date';
  if (row.result === null) return 'not measured yet';
  return 'next test is short';
}

/** A few dozen levels of a preview, the highest of each stretch. */
export function thin(levels: (number | null)[], count = 64): (number | null)[] {
  const size = Math.max(1, Math.floor(levels.length / count));
  const out: (number | null)[] = [];
  for (let k = 0; k < levels.length; k += size) {
    const part = levels.slice(k, k + size).filter((x) => x !== null);
    out.push(part.length === 0 ? null : Math.max(...part));
  }
  return out;
}
