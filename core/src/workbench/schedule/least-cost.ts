import { presentFrom, workUntil } from './dispatch.ts';
import { costOf, delayPrice, handsOnMinutes, type BenchDay, type Task } from './problem.ts';

/** How much work the bench can have done by a time, and the other way round: everybody on one heap. */
interface Capacity {
  /** Ends of pieces in which as many people are there all the while, minutes from now. */
  at: number[];
  /** People in each piece. */
  people: number[];
}

/**
 * What no order of work can cost less than, whoever takes what and however the work is cut.
 *
 * Waiting: work is poured out of one heap of everybody's minutes; a minute of a task carries its price of a minute spread
 * over its work, and by the rearrangement inequality the dearest goes first (Eastman, Even & Isaacs 1964; Goemans 1997, mean
 * busy times). What of a task must still follow after a minute of it, waits included, comes on top. Or every task as if it
 * were alone, whichever is more. Lateness: what is late alone, or what does not fit before a due date (fractional knapsack).
 *
 * @param ready when each task can be gone on with, minutes from now
 * @param next its next stretch
 * @param free when each technician is free, minutes from now
 * @returns euros
 */
export function minCost(
  tasks: readonly Task[],
  day: BenchDay,
  ready: readonly number[] = tasks.map((t) => Math.max(0, t.release)),
  next: readonly number[] = tasks.map(() => 0),
  free: readonly number[] = [],
): number {
  const left = tasks.map((task, k) => ({
    task,
    work: workLeft(task, next[k]),
    alone: aloneDone(task, day, ready[k], next[k]),
  }));
  const alone = left.reduce((sum, l) => sum + delayPrice(l.task, day) * l.alone, 0);
  const capacity = capacityOf(day, free);
  const poured = pour(
    left.map((l, k) => ({ work: l.work, price: delayPrice(l.task, day), after: meanAfter(l.task, next[k]) })),
    capacity,
  );
  return Math.max(alone, poured) + lateBound(left, day, capacity);
}

const workLeft = (task: Task, from: number): number =>
  task.stretches.reduce((sum, s, k) => sum + (k >= from ? s.minutes : 0), 0);

/** When a task is done if nothing else is, minutes from now. */
export function aloneDone(
  { stretches, heldBy, release }: Task,
  day: BenchDay,
  ready: number = Math.max(0, release),
  next = 0,
): number {
  let t = ready;
  for (let k = next; k < stretches.length; k++) {
    const who = day.technicians.filter((p) =>
      heldBy !== null && k === 0 ? p.id === heldBy : p.maxDepth >= stretches[k].depth,
    );
    t =
      Math.min(...who.map((p) => workUntil(p.spans, presentFrom(p.spans, t), stretches[k].minutes))) +
      stretches[k].wait;
  }
  return t;
}

/** Minutes that pass at least from a minute of a task's work to its end, on average over its work. */
function meanAfter({ stretches }: Task, from: number): number {
  let [work, sum, after] = [0, 0, 0];
  for (let k = stretches.length - 1; k >= from; k--) {
    const { minutes, wait } = stretches[k];
    after += wait;
    sum += minutes * (after + minutes / 2);
    after += minutes;
    work += minutes;
  }
  return work === 0 ? after : sum / work;
}

function capacityOf(day: BenchDay, free: readonly number[]): Capacity {
  // Who comes (+1) and goes (-1), and when.
  const events: [at: number, step: number][] = [];
  for (const [k, { spans }] of day.technicians.entries()) {
    for (const [from, to] of spans) {
      const begin = Math.max(from, free[k] ?? 0, 0);
      if (to > begin) events.push([begin, 1], [to, -1]);
    }
  }
  events.sort((a, b) => a[0] - b[0]);
  const out: Capacity = { at: [], people: [] };
  let there = 0;
  for (const [k, [at, step]] of events.entries()) {
    if (at > (events[k - 1]?.[0] ?? 0)) {
      out.at.push(at);
      out.people.push(there);
    }
    there += step;
  }
  return out;
}

/** Euros of waiting where the dearest minutes of work are poured out first. */
function pour(list: readonly { work: number; price: number; after: number }[], { at, people }: Capacity): number {
  const order = list.filter((l) => l.work > 0).sort((a, b) => b.price / b.work - a.price / a.work);
  let cost = list.reduce((sum, l) => sum + l.price * l.after, 0);
  let [k, t] = [0, 0];
  for (const { work, price } of order) {
    let left = work;
    while (left > 0 && k < at.length) {
      const room = people[k] * (at[k] - t);
      const take = Math.min(room, left);
      if (take > 0) {
        const until = t + take / people[k];
        cost += (price / work) * take * ((t + until) / 2);
        t = until;
        left -= take;
      }
      // Also where the piece was filled to the last minute.
      if (take >= room) t = at[k++];
    }
  }
  return cost;
}

/** Euros of lateness that cannot be escaped. */
function lateBound(
  left: readonly { task: Task; work: number; alone: number }[],
  day: BenchDay,
  { at, people }: Capacity,
): number {
  const dated = left.filter((l) => l.task.due !== null && l.task.due >= 0);
  const price = (l: (typeof dated)[number]): number => costOf(l.task, l.alone, day) - delayPrice(l.task, day) * l.alone;
  const lost = dated.filter((l) => l.alone > (l.task.due as number));
  const certain = lost.reduce((sum, l) => sum + price(l), 0);
  const open = dated.filter((l) => !lost.includes(l));
  let most = 0;
  for (const { task } of open) {
    const due = task.due as number;
    const room = at.reduce((sum, to, k) => {
      const from = at[k - 1] ?? 0;
      return sum + (from < due ? people[k] * (Math.min(to, due) - from) : 0);
    }, 0);
    const must = open.filter((l) => (l.task.due as number) <= due).sort((a, b) => b.work - a.work);
    let excess = must.reduce((sum, l) => sum + l.work, 0) - room;
    let cost = 0;
    for (const l of must) {
      if (excess <= 0 || l.work === 0) break;
      cost += day.lateOnce * Math.min(1, excess / l.work);
      excess -= l.work;
    }
    most = Math.max(most, cost);
  }
  return certain + most;
}

/** Tasks by what a minute of their work saves. */
export function byPrice(tasks: readonly Task[], day: BenchDay): number[] {
  const ratio = tasks.map((t) => delayPrice(t, day) / Math.max(handsOnMinutes(t), 1));
  return tasks.map((_, k) => k).sort((a, b) => ratio[b] - ratio[a] || tasks[a].id - tasks[b].id);
}
