import {
  depths,
  equipmentTypes,
  isOpenAt,
  openFrom,
  planCost,
  sayOrderCost,
  undoableTasks,
  whyHere,
  type BenchDay,
  type NamedStretch,
  type PlacedJob,
  type Task,
} from '@umbral/core';
import { orderOnThread } from '../../analysis/order.ts';
import { db, type Queries } from '../../record/db.ts';
import { dayOf, loadBenchNow, openTasks, type BenchNow, type Candidate } from './bench-now.ts';
import { waitWords, type RunningWait } from '../entries/waits.ts';

const minute = 60_000;

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

const later = (now: Date, minutes: number): string | null =>
  minutes === Infinity ? null : new Date(now.getTime() + minutes * minute).toISOString();

/** What this bench can do, and what it lacks for the rest. */
function doableOf(bench: BenchNow, day: BenchDay) {
  const { open, snoozed } = openTasks(bench);
  const lacks = undoableTasks(
    open.map((c) => c.task),
    day,
  );
  return { doable: open.filter((c) => !lacks.has(c.task.id)), lacks, snoozed };
}

/**
 * The run sheet as things stand: every open job with its next step, in the order in which waiting and lateness cost least.
 *
 * @param before the order that was shown last, as job ids: it is kept unless another one is better
 */
export async function makeSheet(q: Queries, now: Date, before: readonly number[] = []): Promise<RunSheet> {
  const bench = await loadBenchNow(q, now);
  const day = dayOf(bench);
  const { doable, lacks, snoozed } = doableOf(bench, day);
  const tasks = doable.map((c) => c.task);
  const known = before.map((id) => tasks.findIndex((t) => t.id === id)).filter((k) => k >= 0);
  const start = [...known, ...tasks.map((_, k) => k).filter((k) => !known.includes(k))];
  const found = await orderOnce(now, tasks, day, start);
  const isPinned = doable.some((c) => c.task.rank !== c.fixedRank);
  const free = isPinned ? await orderAs(now, doable, day, () => null) : found;
  const placed = found.order.map((k): PlacedJob & { candidate: Candidate } => {
    const c = doable[k];
    const first = found.placed.find((p) => p.task === c.task.id);
    return {
      candidate: c,
      task: { ...c.task, rank: c.fixedRank === null ? c.task.rank : null },
      start: first?.start ?? Infinity,
      done: found.done[k],
      isHazard: c.isHazard,
      isVain: c.ahead.isVain,
      waited: c.waited ? waitWords(c.waited) : null,
      expected: c.ahead.expected,
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
  return `No one here works at this depth: ${depths[lack.depth].name}.`;
}

/**
 * What an order that somebody wants would cost more than the one that is recommended, before it is kept.
 *
 * @param first job ids that would stand first, in their order
 */
export async function costOfOrder(q: Queries, now: Date, first: readonly number[]): Promise<{ says: string }> {
  const bench = await loadBenchNow(q, now);
  const day = dayOf(bench);
  const { doable } = doableOf(bench, day);
  const costAs = async (rankOf: (id: number) => number | null) => {
    const { done, late } = await orderAs(now, doable, day, rankOf);
    const tasks = doable.map((c) => c.task);
    return { ...planCost(tasks, done, day), jobsLate: late };
  };
  const best = await costAs(() => null);
  const wanted = await costAs((id) => (first.includes(id) ? first.indexOf(id) : null));
  return { says: sayOrderCost(wanted, best) };
}

/** The order in which somebody's ranks are kept, under what stands first whatever they chose. */
const orderAs = (now: Date, doable: readonly Candidate[], day: BenchDay, rankOf: (id: number) => number | null) =>
  orderOnce(
    now,
    doable.map(({ task, fixedRank }) => ({ ...task, rank: fixedRank ?? rankOf(task.id) })),
    day,
  );

/** Orders that were found last, by what they were made from and the minute: several pages ask for the same. */
const lastOrders = new Map<string, ReturnType<typeof orderOnThread>>();
const keptOrders = 4;

function orderOnce(
  now: Date,
  tasks: readonly Task[],
  day: BenchDay,
  before?: readonly number[],
): ReturnType<typeof orderOnThread> {
  const minuteNow = now.getTime() / minute;
  const fixed = (t: number): number => Math.round(t + minuteNow);
  const key = JSON.stringify([
    Math.floor(minuteNow),
    tasks.map((t) => ({ ...t, release: t.release && fixed(t.release), due: t.due && fixed(t.due) })),
    day.technicians.map((t) => ({ ...t, spans: t.spans.map((span) => span.map(fixed)) })),
    day.occupied?.map((o) => ({ ...o, until: fixed(o.until) })),
    { ...day, technicians: null, occupied: null },
    before,
  ]);
  const found = lastOrders.get(key) ?? orderOnThread(tasks, day, { before });
  // Nobody is given a failure of before.
  found.catch(() => lastOrders.delete(key));
  lastOrders.delete(key);
  lastOrders.set(key, found);
  if (lastOrders.size > keptOrders) lastOrders.delete([...lastOrders.keys()][0]);
  return found;
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
