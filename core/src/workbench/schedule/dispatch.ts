import { equipmentIds, workPlaceIds, type EquipmentId, type WorkPlace } from '../../catalogue/index.ts';
import { costOf, type BenchDay, type Placed, type Plan, type PresenceSpan, type Task } from './problem.ts';

/** A bench in the middle of a plan. Times are minutes from now. */
export interface BenchState {
  /** When each technician is free. */
  free: Float64Array;
  /** Index of the span of presence in which each is free; those before are over. */
  span: Uint16Array;
  /** Where each technician works, as the place's number; {@link nowhere} for nowhere yet. */
  at: Int8Array;
  /** When each piece of equipment is free, kind by kind. */
  pieces: Float64Array;
  /** Index of the next stretch, by task. */
  next: Uint16Array;
  /** When the next stretch can begin, by task. */
  ready: Float64Array;
  /** What was begun; null where only the cost is asked. */
  placed: Placed[] | null;
}

const nowhere = -1;

/** What a stretch asks of the bench, in numbers. */
interface StretchNeeds {
  minutes: number;
  wait: number;
  place: number;
  depth: number;
  /** Kinds of equipment, as their number in the catalogue: while it is done, and while its wait runs. */
  uses: readonly number[];
  waitUses: readonly number[];
  all: readonly number[];
}

/**
 * The first moment at or after `t` at which somebody is there.
 *
 * @param since a span before which none need be looked at
 */
export function presentFrom(spans: readonly PresenceSpan[], t: number, since = 0): number {
  for (let k = since; k < spans.length; k++) if (t < spans[k][1]) return Math.max(spans[k][0], t);
  return Infinity;
}

/**
 * When work is over that begins at a time and rests while nobody is there.
 *
 * @param start minutes from now, at which somebody is there
 * @param since a span before which none need be looked at
 */
export function workUntil(spans: readonly PresenceSpan[], start: number, minutes: number, since = 0): number {
  let left = minutes;
  let t = start;
  for (let k = since; k < spans.length; k++) {
    const [from, to] = spans[k];
    if (t >= to) continue;
    t = Math.max(t, from);
    if (left <= to - t) return t + left;
    left -= to - t;
  }
  return Infinity;
}

/** Who begins what when: the tasks and the bench in numbers, so that thousands of orders can be tried. */
export class Dispatcher {
  private readonly tasks: readonly Task[];
  private readonly day: BenchDay;
  private readonly places: readonly (WorkPlace | null)[];
  private readonly needs: readonly (readonly StretchNeeds[])[];
  /** Where the pieces of each kind begin; one more for the end. */
  private readonly firstPiece: number[];

  /** @param places where everybody is working now */
  constructor(tasks: readonly Task[], day: BenchDay, places: readonly (WorkPlace | null)[] = []) {
    this.tasks = tasks;
    this.day = day;
    this.places = places;
    const kinds = (ids: readonly EquipmentId[]): number[] => ids.map((id) => equipmentIds.indexOf(id));
    this.needs = tasks.map((t) =>
      t.stretches.map(({ minutes, wait, place, depth, uses, waitUses }) => ({
        minutes,
        wait,
        place: workPlaceIds.indexOf(place),
        depth,
        uses: kinds(uses),
        waitUses: kinds(waitUses),
        all: kinds([...uses, ...waitUses]),
      })),
    );
    this.firstPiece = [0];
    for (const id of equipmentIds)
      this.firstPiece.push(this.firstPiece[this.firstPiece.length - 1] + day.equipment[id]);
  }

  /** The bench as it is now. */
  start(): BenchState {
    const { tasks, day, firstPiece } = this;
    const pieces = new Float64Array(firstPiece[firstPiece.length - 1]);
    for (const { id, until } of day.occupied ?? []) {
      const kind = equipmentIds.indexOf(id);
      for (let k = firstPiece[kind]; k < firstPiece[kind + 1]; k++) {
        if (pieces[k] > 0) continue;
        pieces[k] = Math.max(0, until);
        break;
      }
    }
    return {
      free: Float64Array.from(day.technicians, (t) => presentFrom(t.spans, 0)),
      span: new Uint16Array(day.technicians.length),
      at: Int8Array.from(day.technicians, (_, k) => {
        const place = this.places[k];
        return place ? workPlaceIds.indexOf(place) : nowhere;
      }),
      pieces,
      next: new Uint16Array(tasks.length),
      ready: Float64Array.from(tasks, (t) => Math.max(0, t.release)),
      placed: [],
    };
  }

  /** Whether every stretch of a task is through. */
  isThrough(state: BenchState, task: number): boolean {
    return state.next[task] >= this.needs[task].length;
  }

  /** Whether somebody may begin the next stretch of a task at the moment they are free. */
  canStart(state: BenchState, task: number, technician: number): boolean {
    const t = state.free[technician];
    if (state.ready[task] > t) return false;
    const next = state.next[task];
    const needs = this.needs[task];
    if (next >= needs.length || !this.isTheirs(task, next, technician)) return false;
    for (const kind of needs[next].all) if (this.soonest(state, kind) > t) return false;
    return true;
  }

  /** Whether a technician does such work: who has the task in hand, whatever it is; or else who works that deep. */
  private isTheirs(task: number, stretch: number, technician: number): boolean {
    const { id, maxDepth } = this.day.technicians[technician];
    const { heldBy } = this.tasks[task];
    return heldBy !== null && stretch === 0 ? heldBy === id : this.needs[task][stretch].depth <= maxDepth;
  }

  /** When the first of a kind of equipment is free. */
  private soonest(state: BenchState, kind: number): number {
    let min = Infinity;
    for (let k = this.firstPiece[kind]; k < this.firstPiece[kind + 1]; k++)
      if (state.pieces[k] < min) min = state.pieces[k];
    return min;
  }

  /** Puts the next stretch of a task into the plan, begun when the technician is free. */
  startTask(state: BenchState, task: number, technician: number): void {
    const begin = state.free[technician];
    const stretch = this.needs[task][state.next[task]];
    const { id, spans } = this.day.technicians[technician];
    const isLaidOut = state.at[technician] === stretch.place || state.at[technician] === nowhere;
    const end = workUntil(
      spans,
      begin,
      (isLaidOut ? 0 : this.day.changeMinutes) + stretch.minutes,
      state.span[technician],
    );
    for (const kind of stretch.uses) this.occupy(state, kind, begin, end);
    for (const kind of stretch.waitUses) this.occupy(state, kind, begin, end + stretch.wait);
    state.placed?.push({ task: this.tasks[task].id, stretch: state.next[task], technician: id, start: begin, end });
    state.next[task]++;
    state.ready[task] = end + stretch.wait;
    this.freeFrom(state, technician, end);
    state.at[technician] = stretch.place;
  }

  private freeFrom(state: BenchState, technician: number, t: number): void {
    const { spans } = this.day.technicians[technician];
    while (state.span[technician] < spans.length && t >= spans[state.span[technician]][1]) state.span[technician]++;
    state.free[technician] = presentFrom(spans, t, state.span[technician]);
  }

  private occupy(state: BenchState, kind: number, begin: number, until: number): void {
    for (let k = this.firstPiece[kind]; k < this.firstPiece[kind + 1]; k++) {
      if (state.pieces[k] > begin) continue;
      state.pieces[k] = until;
      return;
    }
  }

  /**
   * Lets somebody wait until anything changes that could give them work: a wait ends, what they need comes free.
   *
   * @param open indices of tasks that are not through
   */
  idleUntilNext(state: BenchState, technician: number, open: readonly number[]): void {
    const t = state.free[technician];
    let until = Infinity;
    for (const k of open) {
      const next = state.next[k];
      // Somebody else does it; what comes after may be theirs.
      if (!this.isTheirs(k, next, technician)) continue;
      let at = state.ready[k];
      for (const kind of this.needs[k][next].all) at = Math.max(at, this.soonest(state, kind));
      if (at > t && at < until) until = at;
    }
    // What another one finishes may be gone on with.
    for (const other of state.free) if (other > t && other < until) until = other;
    this.freeFrom(state, technician, until);
  }

  /** The plan of a state in which nothing is left to do, or can be done. */
  planOf(state: BenchState): Plan {
    const { tasks, day } = this;
    const done = tasks.map((_, k) => (this.isThrough(state, k) ? state.ready[k] : Infinity));
    return {
      placed: state.placed ?? [],
      done,
      cost: tasks.reduce((sum, t, k) => sum + costOf(t, done[k], day), 0),
      late: tasks.filter((t, k) => t.due !== null && done[k] > t.due).length,
    };
  }
}

/** A copy that can go another way. */
export function copyState({ free, span, at, pieces, next, ready, placed }: BenchState): BenchState {
  return {
    free: free.slice(),
    span: span.slice(),
    at: at.slice(),
    pieces: pieces.slice(),
    next: next.slice(),
    ready: ready.slice(),
    placed: placed && [...placed],
  };
}

/** Who decides next, and since they are the first to be free. */
export function nextFree({ free }: BenchState): number {
  let best = 0;
  for (let k = 1; k < free.length; k++) if (free[k] < free[best]) best = k;
  return best;
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
  const dispatcher = new Dispatcher(tasks, day, places);
  const state = dispatcher.start();
  workOff(dispatcher, state, [...order]);
  return dispatcher.planOf(state);
}

/** What may be said of each task as a list is worked off; `begins` before its stretch, `ends` after its last. */
interface Watch {
  begins?: (task: number) => void;
  /** @returns whether the rest need not be looked at */
  ends?: (task: number) => boolean;
}

/**
 * Works off a list from a state, which it changes.
 *
 * @param open tasks of the list that are not through; those that are through are taken out
 */
export function workOff(dispatcher: Dispatcher, state: BenchState, open: number[], watch: Watch = {}): void {
  while (open.length > 0) {
    const who = nextFree(state);
    if (state.free[who] === Infinity) return;
    let at = 0;
    while (at < open.length && !dispatcher.canStart(state, open[at], who)) at++;
    if (at === open.length) {
      dispatcher.idleUntilNext(state, who, open);
      continue;
    }
    const task = open[at];
    watch.begins?.(task);
    dispatcher.startTask(state, task, who);
    if (!dispatcher.isThrough(state, task)) continue;
    open.splice(at, 1);
    if (watch.ends?.(task)) return;
  }
}
