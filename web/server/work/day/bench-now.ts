import {
  presenceOf,
  usualBench,
  waitTypes,
  workAhead,
  type Assessment,
  type BenchDay,
  type NamedStretch,
  type Run,
  type Task,
  type WorkAhead,
  type WorkingHours,
} from '@umbral/core';
import type { Queries } from '../../record/db.ts';
import { loadPolicy, type KeptPolicy } from '../shop/policy.ts';
import type { JobRow, OwnHours } from '../../record/tables.ts';
import { inHands, type InHand } from './takes.ts';
import { runningWaits, usualWaits, type RunningWait } from '../entries/waits.ts';
import { loadWorkers, type Worker } from './workers.ts';

const minute = 60_000;

interface SheetRow extends JobRow {
  result: Assessment | null;
  feed: Run['feed'] | null;
  seen: number;
  rank: number | null;
  snoozed_until: Date | null;
}

const openJobs = `
  SELECT j.*, a.result, r.feed, c.n::int AS seen, m.rank, m.snoozed_until FROM jobs j
  LEFT JOIN sheet_marks m ON m.job_id = j.id
  LEFT JOIN LATERAL (SELECT result FROM assessments WHERE job_id = j.id ORDER BY id DESC LIMIT 1) a ON true
  LEFT JOIN LATERAL (SELECT feed FROM runs WHERE job_id = j.id AND deleted_at IS NULL ORDER BY id DESC LIMIT 1) r ON true
  CROSS JOIN LATERAL (SELECT
    (SELECT count(*) FROM runs WHERE job_id = j.id AND deleted_at IS NULL)
    + (SELECT count(*) FROM readings WHERE job_id = j.id AND deleted_at IS NULL)
    + (SELECT count(*) FROM injections WHERE job_id = j.id AND deleted_at IS NULL) AS n) c
  WHERE NOT j.is_practice AND j.deleted_at IS NULL AND j.closed_at IS NULL
  ORDER BY j.id`;

/** Everything that a sheet is made from. */
export interface BenchNow {
  rows: SheetRow[];
  waits: RunningWait[];
  hands: InHand[];
  workers: Worker[];
  policy: KeptPolicy;
  usual: Awaited<ReturnType<typeof usualWaits>>;
  now: Date;
}

export async function loadBenchNow(q: Queries, now: Date): Promise<BenchNow> {
  const { rows } = await q.raw<{ rows: SheetRow[] }>(openJobs);
  return {
    rows,
    waits: await runningWaits(q),
    hands: await inHands(q),
    workers: await loadWorkers(q),
    policy: await loadPolicy(q),
    usual: await usualWaits(q),
    now,
  };
}

/** What stands first whatever somebody put first: what is in hand, then what is a hazard. */
const fixedRanks = { inHand: -2, hazard: -1 };

const minutesUntil = (moment: string, now: Date): number => (Date.parse(moment) - now.getTime()) / minute;

/** The bench as the schedule sees it; somebody is always there, or nothing could be planned. */
export function dayOf({ policy, workers, waits, now }: BenchNow): BenchDay {
  const hoursOf = (own: OwnHours | null): WorkingHours => ({ ...policy.hours, ...(own ?? {}) });
  const all = workers.length > 0 ? workers : [{ id: 0, name: '', maxDepth: 5, hours: null }];
  return {
    ...usualBench,
    equipment: policy.equipment,
    occupied: waits.flatMap(({ kind, until }) => {
      const id = waitTypes[kind].uses;
      return id && until !== null ? [{ id, until: minutesUntil(until, now) }] : [];
    }),
    delayShare: policy.delayShare,
    lateOnce: policy.lateOnce,
    lateDaily: policy.lateDaily,
    technicians: all.map((w) => ({ id: w.id, maxDepth: w.maxDepth, spans: presenceOf(hoursOf(w.hours), now) })),
  };
}

export interface Candidate {
  row: SheetRow;
  ahead: WorkAhead;
  isHazard: boolean;
  /** Its rank whatever somebody chose; null for none. */
  fixedRank: number | null;
  task: Task & { stretches: readonly NamedStretch[] };
  holder: InHand | null;
  waited: RunningWait | null;
}

function candidateOf(bench: BenchNow, row: SheetRow): Candidate {
  const { policy, usual, now } = bench;
  const ahead = workAhead(
    {
      deviceClass: row.device_class,
      fee: row.fee,
      liquid: row.intake.liquid,
      dataWanted: row.intake.dataWanted,
      dataOnly: row.data_only,
      isHazard: row.intake.batterySwollen && !row.intake.batteryIsolated,
      seen: row.seen,
      waiting: bench.waits.find((w) => w.jobId === row.id && w.until !== null)?.kind ?? null,
      feed: row.feed ?? 'usb-c',
      assessment: row.result,
      approval: row.agreed_at ? 1 : policy.approval,
      diagnosisFee: policy.diagnosisFee,
    },
    policy,
    (kind) => usual[kind],
  );
  const dates = [row.promised_at, row.due_at].flatMap((d) => (d ? [d.getTime()] : []));
  const due = dates.length === 0 ? null : (Math.min(...dates) - now.getTime()) / minute;
  const holder = bench.hands.find((h) => h.jobId === row.id) ?? null;
  const waits = bench.waits.filter((w) => w.jobId === row.id && w.until !== null);
  const release = Math.max(0, ...waits.map((w) => minutesUntil(w.until as string, now)));
  const isHazard = row.intake.batterySwollen && !row.intake.batteryIsolated;
  const atBench = holder !== null && release === 0 && bench.workers.some((w) => w.id === holder.personId);
  const fixedRank = atBench ? fixedRanks.inHand : isHazard ? fixedRanks.hazard : null;
  const task = {
    id: row.id,
    release,
    stretches: ahead.stretches,
    value: ahead.value,
    due,
    heldBy: atBench ? holder.personId : null,
    rank: fixedRank ?? row.rank,
  };
  return { row, ahead, isHazard, fixedRank, task, holder, waited: release === 0 ? (waits[0] ?? null) : null };
}

/** Runs for which nobody knows the end stand aside, as what is put off does. */
export function openTasks(bench: BenchNow): { open: Candidate[]; snoozed: SheetRow[] } {
  const { rows, waits, now } = bench;
  const snoozed = rows.filter((r) => r.snoozed_until !== null && r.snoozed_until > now);
  const endless = new Set(waits.filter((w) => w.until === null).map((w) => w.jobId));
  const open = rows.filter((r) => !snoozed.includes(r) && !endless.has(r.id)).map((row) => candidateOf(bench, row));
  return { open, snoozed };
}
