import type { EquipmentId, WorkPlace } from '../../catalogue/index.ts';

/** A time span of presence, minutes from now. */
export type PresenceSpan = readonly [from: number, to: number];

/** A piece of work that one person does in one go, and what passes by itself after it. */
export interface Stretch {
  /** Hands-on minutes. */
  minutes: number;
  place: WorkPlace;
  /** How far the device is opened for it, 0 to 5. */
  depth: number;
  /** What it cannot be done without, while it is done. */
  uses: readonly EquipmentId[];
  /** Minutes that pass afterwards before the next stretch can begin. */
  wait: number;
  /** What that wait keeps occupied. */
  waitUses: readonly EquipmentId[];
}

/** A job as the schedule sees it. */
export interface Task {
  id: number;
  /** Minutes from now at which it can be gone on with; 0 for now. */
  release: number;
  stretches: readonly Stretch[];
  /** Expected euros that it brings when all of it is done. */
  value: number;
  /** Minutes from now of its due date or promise; null for none, negative where it has passed. */
  due: number | null;
  /** Whose hands it is in: it goes on with them alone. */
  heldBy: number | null;
  /** Comes before everything that has a higher one; null for wherever it fits. */
  rank: number | null;
}

/** Somebody who works on the bench. */
export interface Technician {
  id: number;
  /** How far they open a device, 0 to 5. */
  maxDepth: number;
  /** When they are there: in order, apart, the last without an end. */
  spans: readonly PresenceSpan[];
}

/** The bench on a day. */
export interface BenchDay {
  technicians: readonly Technician[];
  /** How many there are of what is shared. */
  equipment: Readonly<Record<EquipmentId, number>>;
  /** What waits that run keep occupied, with the minutes from now at which they end. */
  occupied?: readonly { id: EquipmentId; until: number }[];
  /** Minutes to lay out another place. */
  changeMinutes: number;
  /** Share of a job's value that a day of waiting costs. */
  delayShare: number;
  /** What a late job costs, once and for every day that it stays late, euros. */
  lateOnce: number;
  lateDaily: number;
  /** How long before its due date a job should be planned to be done: minutes at least, and share of the time until then. */
  marginMinutes: number;
  marginShare: number;
}

/** One stretch as it is planned. */
export interface Placed {
  task: number;
  stretch: number;
  technician: number;
  /** Minutes from now. */
  start: number;
  end: number;
}

/** An order of work with what it costs. */
export interface Plan {
  placed: Placed[];
  /** When each task is done, minutes from now, in the order of the tasks. */
  done: number[];
  /** Euros of waiting and lateness. */
  cost: number;
  late: number;
}

const minutesPerDay = 1440;
/** How likely something comes late that is planned to be done at its very due date. */
const riskAtDue = 0.5;

/** Euros that each minute until a task is done costs. */
export function delayPrice(task: Task, day: BenchDay): number {
  const overdue = task.due !== null && task.due < 0 ? day.lateDaily : 0;
  return (task.value * day.delayShare + overdue) / minutesPerDay;
}

/** What lateness costs by the shop's policy, euros: once, and by the day; nothing more for what was late already. */
function lateCost({ due }: Task, done: number, day: BenchDay): number {
  if (due === null || due < 0 || done <= due) return 0;
  return day.lateOnce + (day.lateDaily * (done - due)) / minutesPerDay;
}

/**
 * What it costs, euros, to plan a task to be done so shortly before its due date that it may come late. Work takes longer than
 * it should about as often as it does not: the nearer the likelier, up to a half.
 */
function riskCost({ due }: Task, done: number, day: BenchDay): number {
  if (due === null || due < 0 || done > due) return 0;
  const margin = Math.max(day.marginMinutes, day.marginShare * due);
  return day.lateOnce * riskAtDue * Math.max(0, 1 - (due - done) / margin);
}

/**
 * What it costs that a task is done at a time: its value waits, a due date that passes costs, and one that comes close may.
 *
 * @param done minutes from now
 * @returns euros
 */
export function costOf(task: Task, done: number, day: BenchDay): number {
  return delayPrice(task, day) * done + lateCost(task, done, day) + riskCost(task, done, day);
}

/** What a plan costs, euros, by what it costs for; of tasks that are done at all. */
export interface PlanCost {
  waiting: number;
  late: number;
  close: number;
}

/** @param done minutes from now, in the order of the tasks */
export function planCost(tasks: readonly Task[], done: readonly number[], day: BenchDay): PlanCost {
  const sum = (cost: (task: Task, done: number) => number): number =>
    tasks.reduce((total, t, k) => total + (done[k] < Infinity ? cost(t, done[k]) : 0), 0);
  return {
    waiting: sum((t, at) => delayPrice(t, day) * at),
    late: sum((t, at) => lateCost(t, at, day)),
    close: sum((t, at) => riskCost(t, at, day)),
  };
}

/** Hands-on minutes of a task. */
export function handsOnMinutes(task: Task): number {
  return task.stretches.reduce((sum, s) => sum + s.minutes, 0);
}

/**
 * Tasks that cannot be done on this bench, each with the reason.
 *
 * @returns by task id
 */
export function undoableTasks(
  tasks: readonly Task[],
  day: BenchDay,
): Map<number, { lacks: EquipmentId } | { depth: number }> {
  const out = new Map<number, { lacks: EquipmentId } | { depth: number }>();
  const deepest = Math.max(0, ...day.technicians.map((t) => t.maxDepth));
  for (const task of tasks) {
    for (const stretch of task.stretches) {
      const lacks = [...stretch.uses, ...stretch.waitUses].find((e) => day.equipment[e] < 1);
      if (lacks) out.set(task.id, { lacks });
      else if (stretch.depth > deepest) out.set(task.id, { depth: stretch.depth });
    }
  }
  return out;
}
