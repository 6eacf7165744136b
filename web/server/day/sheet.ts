import {
  dispatch,
  isOpenAt,
  money,
  openFrom,
  orderWork,
  presence,
  undoable,
  usualBench,
  whyHere,
  workAhead,
  equipmentTypes,
  depths,
  type Assessment,
  type BenchDay,
  type NamedStretch,
  type PlacedJob,
  type Run,
  type Task,
  type WorkAhead,
  type WorkingHours,
} from '@umbral/core';
import { db, type Queries } from '../db.ts';
import { loadPolicy, type KeptPolicy } from '../policy.ts';
import type { JobRow, OwnHours } from '../tables.ts';
import { inHands, type InHand } from './takes.ts';
import { runningWaits, usualWaits, waitWords, type RunningWait } from './waits.ts';

const minute = 60_000;

interface SheetRow extends JobRow {
  result: Assessment | null;
  feed: Run['feed'] | null;
  run_count: number;
  rank: number | null;
  snoozed_until: Date | null;
}

interface Worker {
  id: number;
  name: string;
  maxDepth: number;
  hours: OwnHours | null;
}

/** A job on the run sheet. */
export interface SheetEntry {
  jobId: number;
  next: NamedStretch;
  /** All that is left, hands on. */
  minutes: number;
  value: number;
  success: number;
  why: string;
  isVain: boolean;
  isPinned: boolean;
  /** It can be gone on with now: nothing of it waits. */
  isReady: boolean;
  holder: { id: number; name: string } | null;
  /** When it is planned to be begun, and to be done; null where it cannot be. */
  startAt: string | null;
  doneAt: string | null;
  isLate: boolean;
}

/** The order of a day. */
export interface RunSheet {
  madeAt: string;
  entries: SheetEntry[];
  /** Jobs that this bench cannot do, with what is lacking. */
  lacking: { jobId: number; says: string }[];
  snoozed: { jobId: number; until: string }[];
  waits: RunningWait[];
  /** What waiting and lateness cost in this order, and what no order can cost less than. */
  cost: number;
  bound: number;
  isBest: boolean;
  late: number;
  /** What it costs more than the best order because something was pinned. */
  pinsCost: number;
  /** When the shop opens next; null where it is open. */
  opensAt: string | null;
}

const openJobs = `
  SELECT j.*, a.result, r.feed, coalesce(c.n, 0)::int AS run_count, m.rank, m.snoozed_until FROM jobs j
  LEFT JOIN sheet_marks m ON m.job_id = j.id
  LEFT JOIN LATERAL (SELECT result FROM assessments WHERE job_id = j.id ORDER BY id DESC LIMIT 1) a ON true
  LEFT JOIN LATERAL (SELECT feed FROM runs WHERE job_id = j.id AND deleted_at IS NULL ORDER BY id DESC LIMIT 1) r ON true
  LEFT JOIN LATERAL (SELECT count(*) AS n FROM runs WHERE job_id = j.id AND deleted_at IS NULL) c ON true
  WHERE j.deleted_at IS NULL AND j.closed_at IS NULL
  ORDER BY j.id`;

/** Everything that a sheet is made from. */
interface Bench {
  rows: SheetRow[];
  waits: RunningWait[];
  hands: InHand[];
  workers: Worker[];
  policy: KeptPolicy;
  usual: Awaited<ReturnType<typeof usualWaits>>;
  now: Date;
}

async function loadAll(q: Queries, now: Date): Promise<Bench> {
  const { rows } = await q.raw<{ rows: SheetRow[] }>(openJobs);
  const workers = (await q('people')
    .whereNull('disabled_at')
    .orderBy('id')
    .select('id', 'name', { maxDepth: 'max_depth' }, 'hours')) as Worker[];
  return {
    rows,
    waits: await runningWaits(q),
    hands: await inHands(q),
    workers,
    policy: await loadPolicy(q),
    usual: await usualWaits(q),
    now,
  };
}

/** The bench as the schedule sees it; somebody is always there, or nothing could be planned. */
function dayOf({ policy, workers, now }: Bench): BenchDay {
  const hoursOf = (own: OwnHours | null): WorkingHours => ({ ...policy.hours, ...(own ?? {}) });
  const all = workers.length > 0 ? workers : [{ id: 0, name: '', maxDepth: 5, hours: null }];
  return {
    ...usualBench,
    equipment: policy.equipment,
    delayShare: policy.delayShare,
    lateOnce: policy.lateOnce,
    lateDaily: policy.lateDaily,
    technicians: all.map((w) => ({ id: w.id, maxDepth: w.maxDepth, spans: presence(hoursOf(w.hours), now) })),
  };
}

interface Candidate {
  row: SheetRow;
  ahead: WorkAhead;
  task: Task & { stretches: readonly NamedStretch[] };
  holder: InHand | null;
  waited: RunningWait | null;
}

function candidateOf(bench: Bench, row: SheetRow): Candidate {
  const { policy, usual, now } = bench;
  const ahead = workAhead(
    {
      deviceClass: row.device_class,
      fee: row.fee,
      liquid: row.intake.liquid,
      dataWanted: row.intake.dataWanted,
      dataOnly: row.data_only,
      isHazard: row.intake.batterySwollen && !row.intake.batteryIsolated,
      runs: row.run_count,
      feed: row.feed ?? 'usb-c',
      assessment: row.result,
    },
    policy,
    (kind) => usual[kind],
  );
  const dates = [row.promised_at, row.due_at].flatMap((d) => (d ? [d.getTime()] : []));
  const due = dates.length === 0 ? null : (Math.min(...dates) - now.getTime()) / minute;
  const holder = bench.hands.find((h) => h.jobId === row.id) ?? null;
  const waits = bench.waits.filter((w) => w.jobId === row.id && w.until !== null);
  const release = Math.max(0, ...waits.map((w) => (new Date(w.until as string).getTime() - now.getTime()) / minute));
  const isHazard = row.intake.batterySwollen && !row.intake.batteryIsolated;
  const rank = isHazard ? -1 : row.rank;
  const task = {
    id: row.id,
    release,
    stretches: ahead.stretches,
    value: ahead.value,
    due,
    heldBy: holder?.personId ?? null,
    rank,
  };
  return { row, ahead, task, holder, waited: release === 0 ? (waits[0] ?? null) : null };
}

/** Runs for which nobody knows the end stand aside, as what is put off does. */
function split(bench: Bench): { open: Candidate[]; snoozed: SheetRow[] } {
  const { rows, waits, now } = bench;
  const snoozed = rows.filter((r) => r.snoozed_until !== null && r.snoozed_until > now);
  const endless = new Set(waits.filter((w) => w.until === null).map((w) => w.jobId));
  const open = rows.filter((r) => !snoozed.includes(r) && !endless.has(r.id)).map((row) => candidateOf(bench, row));
  return { open, snoozed };
}

const later = (now: Date, minutes: number): string | null =>
  minutes === Infinity ? null : new Date(now.getTime() + minutes * minute).toISOString();

/**
 * The run sheet as things stand: every open job with its next step, in the order in which waiting and lateness cost least.
 *
 * @param before the order that was shown last, as job ids: it is kept unless another one is better
 */
export async function makeSheet(q: Queries, now: Date, before: readonly number[] = []): Promise<RunSheet> {
  const bench = await loadAll(q, now);
  const day = dayOf(bench);
  const { open, snoozed } = split(bench);
  const lacks = undoable(
    open.map((c) => c.task),
    day,
  );
  const doable = open.filter((c) => !lacks.has(c.task.id));
  const tasks = doable.map((c) => c.task);
  const known = before.map((id) => tasks.findIndex((t) => t.id === id)).filter((k) => k >= 0);
  const start = [...known, ...tasks.map((_, k) => k).filter((k) => !known.includes(k))];
  const found = orderWork(tasks, day, { before: start });
  const pinned = tasks.some((t) => t.rank !== null && t.rank >= 0);
  const free = pinned
    ? orderWork(
        tasks.map((t) => ({ ...t, rank: t.rank === -1 ? -1 : null })),
        day,
        { before: start },
      )
    : found;
  const placed = found.order.map((k): PlacedJob & { candidate: Candidate } => {
    const c = doable[k];
    const first = found.placed.find((p) => p.task === c.task.id);
    const isHazard = c.task.rank === -1;
    return {
      candidate: c,
      task: { ...c.task, rank: isHazard ? null : c.task.rank },
      start: first?.start ?? Infinity,
      done: found.done[k],
      isHazard,
      isVain: c.ahead.isVain,
      waited: c.waited ? waitWords(c.waited) : null,
      holder: c.holder?.name ?? null,
    };
  });
  return {
    madeAt: now.toISOString(),
    entries: placed.map((p, k) => entryOf(p, placed[k - 1] ?? null, placed.slice(k + 1), now)),
    lacking: [...lacks].map(([jobId, lack]) => ({ jobId, says: sayLack(lack) })),
    snoozed: snoozed.map((r) => ({ jobId: r.id, until: (r.snoozed_until as Date).toISOString() })),
    waits: bench.waits,
    cost: found.cost === Infinity ? 0 : found.cost,
    bound: found.bound,
    isBest: found.isBest,
    late: found.late,
    pinsCost: Math.max(0, found.cost - free.cost) || 0,
    opensAt: isOpenAt(bench.policy.hours, now) ? null : (openFrom(bench.policy.hours, now)?.toISOString() ?? null),
  };
}

function entryOf(
  placed: PlacedJob & { candidate: Candidate },
  before: PlacedJob | null,
  rest: readonly PlacedJob[],
  now: Date,
): SheetEntry {
  const { ahead, task, holder, row } = placed.candidate;
  return {
    jobId: row.id,
    next: ahead.stretches[0],
    minutes: ahead.stretches.reduce((sum, s) => sum + s.minutes, 0),
    value: ahead.value,
    success: ahead.success,
    why: whyHere(placed, before, rest),
    isVain: ahead.isVain,
    isPinned: row.rank !== null,
    isReady: task.release === 0,
    holder: holder && { id: holder.personId, name: holder.name },
    startAt: later(now, placed.start),
    doneAt: later(now, placed.done),
    isLate: task.due !== null && placed.done > task.due,
  };
}

function sayLack(lack: { lacks: keyof typeof equipmentTypes } | { depth: number }): string {
  if ('lacks' in lack) return `Needs the ${equipmentTypes[lack.lacks].name}, which this bench does not have.`;
  return `Nobody here opens a device that far: ${depths[lack.depth].name}.`;
}

/**
 * What an order that somebody wants would cost more than the one that is recommended, before it is kept.
 *
 * @param first job ids that would stand first, in their order
 */
export async function costOfOrder(
  q: Queries,
  now: Date,
  first: readonly number[],
): Promise<{ says: string; cost: number; late: number }> {
  const bench = await loadAll(q, now);
  const day = dayOf(bench);
  const tasks = split(bench).open.map((c) => c.task);
  const place = (id: number): number => (first.includes(id) ? first.indexOf(id) : Infinity);
  const wanted = tasks.map((t) => ({ ...t, rank: Number.isFinite(place(t.id)) ? place(t.id) : null }));
  const free = orderWork(
    tasks.map((t) => ({ ...t, rank: null })),
    day,
  );
  const asked = orderWork(wanted, day, { before: free.order });
  const plan = dispatch(wanted, day, asked.order);
  const cost = Math.max(0, plan.cost - free.cost);
  const late = plan.late - free.late;
  const lateWords = late > 0 ? ` and makes ${late} ${late === 1 ? 'job' : 'jobs'} late` : '';
  const says = cost < 1 && late <= 0 ? 'That costs nothing.' : `That costs ${money(cost)}${lateWords}.`;
  return { says, cost, late };
}

declare global {
  var umbralSheet: { order: number[] } | undefined;
}

/** The run sheet for a page: it starts from the order that was shown last, so that nothing jumps without a reason. */
export async function currentSheet(now: Date = new Date()): Promise<RunSheet> {
  const sheet = await makeSheet(db(), now, globalThis.umbralSheet?.order ?? []);
  globalThis.umbralSheet = { order: sheet.entries.map((e) => e.jobId) };
  return sheet;
}
