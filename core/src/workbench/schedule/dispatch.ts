import { equipmentIds, type EquipmentId, type WorkPlace } from '../../catalogue/index.ts';
import { costOf, type BenchDay, type Placed, type Plan, type PresenceSpan, type Task } from './problem.ts';

/** A bench in the middle of a plan: who is free when and where, what is occupied until when, how far each task is. */
export interface BenchState {
  /** Minutes from now, by technician. */
  free: number[];
  at: (WorkPlace | null)[];
  /** When each piece is free, by kind. */
  equipment: Record<EquipmentId, number[]>;
  /** Index of the next stretch, by task. */
  next: number[];
  /** When the next stretch can begin, by task. */
  ready: number[];
  placed: Placed[];
}

/** The bench as it is now. */
export function initialState(
  tasks: readonly Task[],
  day: BenchDay,
  places: readonly (WorkPlace | null)[] = [],
): BenchState {
  const equipment = Object.fromEntries(
    equipmentIds.map((id) => [id, new Array<number>(day.equipment[id]).fill(0)]),
  ) as BenchState['equipment'];
  for (const { id, until } of day.occupied ?? []) {
    const piece = equipment[id].indexOf(0);
    if (piece >= 0) equipment[id][piece] = Math.max(0, until);
  }
  return {
    free: day.technicians.map((t) => presentFrom(t.spans, 0)),
    at: day.technicians.map((_, k) => places[k] ?? null),
    equipment,
    next: tasks.map(() => 0),
    ready: tasks.map((t) => Math.max(0, t.release)),
    placed: [],
  };
}

/** A copy that can go another way. */
export function copyState(state: BenchState): BenchState {
  return {
    free: [...state.free],
    at: [...state.at],
    equipment: Object.fromEntries(equipmentIds.map((id) => [id, [...state.equipment[id]]])) as BenchState['equipment'],
    next: [...state.next],
    ready: [...state.ready],
    placed: [...state.placed],
  };
}

/** The first moment at or after `t` at which somebody is there. */
export function presentFrom(spans: readonly PresenceSpan[], t: number): number {
  for (const [from, to] of spans) if (t < to) return Math.max(from, t);
  return Infinity;
}

/**
 * When work is over that begins at a time and rests while nobody is there.
 *
 * @param start minutes from now, at which somebody is there
 */
export function workUntil(spans: readonly PresenceSpan[], start: number, minutes: number): number {
  let left = minutes;
  let t = start;
  for (const [from, to] of spans) {
    if (t >= to) continue;
    t = Math.max(t, from);
    if (left <= to - t) return t + left;
    left -= to - t;
  }
  return Infinity;
}

/** Whether somebody may begin the next stretch of a task at the moment they are free. */
export function canStart(
  state: BenchState,
  tasks: readonly Task[],
  day: BenchDay,
  task: number,
  technician: number,
): boolean {
  const t = state.free[technician];
  if (state.ready[task] > t) return false;
  const { stretches, heldBy } = tasks[task];
  const next = state.next[task];
  if (next >= stretches.length) return false;
  const stretch = stretches[next];
  const who = day.technicians[technician];
  if (stretch.depth > who.maxDepth || (heldBy !== null && next === 0 && heldBy !== who.id)) return false;
  for (const e of stretch.uses) if (soonest(state, e) > t) return false;
  for (const e of stretch.waitUses) if (soonest(state, e) > t) return false;
  return true;
}

/** When the first of a kind of equipment is free. */
function soonest(state: BenchState, id: EquipmentId): number {
  let least = Infinity;
  for (const until of state.equipment[id]) if (until < least) least = until;
  return least;
}

/** Puts the next stretch of a task into the plan, begun when the technician is free. */
export function startTask(
  state: BenchState,
  tasks: readonly Task[],
  day: BenchDay,
  task: number,
  technician: number,
): void {
  const begin = state.free[technician];
  const stretch = tasks[task].stretches[state.next[task]];
  const { spans } = day.technicians[technician];
  const laying = state.at[technician] === stretch.place || state.at[technician] === null ? 0 : day.changeMinutes;
  const end = workUntil(spans, begin, laying + stretch.minutes);
  for (const e of stretch.uses) occupy(state, e, begin, end);
  for (const e of stretch.waitUses) occupy(state, e, begin, end + stretch.wait);
  state.placed.push({
    task: tasks[task].id,
    stretch: state.next[task],
    technician: day.technicians[technician].id,
    start: begin,
    end,
  });
  state.next[task]++;
  state.ready[task] = end + stretch.wait;
  state.free[technician] = presentFrom(spans, end);
  state.at[technician] = stretch.place;
}

function occupy(state: BenchState, id: EquipmentId, begin: number, until: number): void {
  const list = state.equipment[id];
  const k = list.findIndex((x) => x <= begin);
  if (k >= 0) list[k] = until;
}

/** Who decides next, and since they are the first to be free. */
export function nextFree(state: BenchState): number {
  let best = 0;
  for (let k = 1; k < state.free.length; k++) if (state.free[k] < state.free[best]) best = k;
  return best;
}

/**
 * Lets somebody wait until anything changes that could give them work: a wait ends, what they need comes free.
 *
 * @param open indices of tasks that are not through
 */
export function idleUntilNext(
  state: BenchState,
  tasks: readonly Task[],
  day: BenchDay,
  technician: number,
  open: readonly number[],
): void {
  const t = state.free[technician];
  const who = day.technicians[technician];
  let until = Infinity;
  for (const k of open) {
    const { stretches, heldBy } = tasks[k];
    const next = state.next[k];
    let at = state.ready[k];
    const stretch = stretches[next];
    if (stretch.depth > who.maxDepth || (heldBy !== null && next === 0 && heldBy !== who.id)) {
      // Somebody else does it; what comes after may be theirs.
      at = Infinity;
    } else {
      for (const e of stretch.uses) at = Math.max(at, soonest(state, e));
      for (const e of stretch.waitUses) at = Math.max(at, soonest(state, e));
    }
    if (at > t && at < until) until = at;
  }
  // What another one finishes may be gone on with.
  for (const other of state.free) if (other > t && other < until) until = other;
  state.free[technician] = presentFrom(who.spans, until);
}

/** Whether every task is through. */
export function isOver(state: BenchState, tasks: readonly Task[]): boolean {
  return state.next.every((n, k) => n >= tasks[k].stretches.length);
}

/**
 * What comes of working by a list: whoever is free takes the first task of the list that they can go on with.
 *
 * @param order indices of the tasks, the first first
 * @returns the plan; a task that can never be begun is done at infinity
 */
export function dispatchTasks(
  tasks: readonly Task[],
  day: BenchDay,
  order: readonly number[],
  places: readonly (WorkPlace | null)[] = [],
): Plan {
  const state = initialState(tasks, day, places);
  const open = [...order];
  while (open.length > 0) {
    const who = nextFree(state);
    if (state.free[who] === Infinity) break;
    const at = open.findIndex((task) => canStart(state, tasks, day, task, who));
    if (at < 0) {
      idleUntilNext(state, tasks, day, who, open);
      continue;
    }
    const task = open[at];
    startTask(state, tasks, day, task, who);
    if (state.next[task] >= tasks[task].stretches.length) open.splice(at, 1);
  }
  return planOf(state, tasks, day);
}

/** The plan of a state in which nothing is left to do. */
export function planOf(state: BenchState, tasks: readonly Task[], day: BenchDay): Plan {
  const done = tasks.map((t, k) => (state.next[k] >= t.stretches.length ? state.ready[k] : Infinity));
  return {
    placed: state.placed,
    done,
    cost: tasks.reduce((sum, t, k) => sum + costOf(t, done[k], day), 0),
    late: tasks.filter((t, k) => t.due !== null && done[k] > t.due).length,
  };
}
