import type { WorkPlace } from '../../catalogue/index.ts';
import { aloneDone, byPrice, minCost } from './least-cost.ts';
import {
  canStart,
  copyState,
  dispatchTasks,
  idleUntilNext,
  initialState,
  isOver,
  nextFree,
  planOf,
  startTask,
  type BenchState,
} from './dispatch.ts';
import { costOf, type BenchDay, type Plan, type Task } from './problem.ts';
import settings from './order-work.json';

/** An order of work, with how far it can be from the best. */
interface WorkOrder extends Plan {
  /** Indices of the tasks, the first first. */
  order: number[];
  /** Euros that no order can cost less than. */
  bound: number;
  /** It is the best there is. */
  isBest: boolean;
}

interface OrderOptions {
  /** An order that is already there, of indices: it is not left for one that costs the same. */
  before?: readonly number[];
  /** Where everybody is working now. */
  places?: readonly (WorkPlace | null)[];
  /** Lists that are tried at most; until no move betters any more, where left out. */
  tries?: number;
}

/**
 * The order of work in which waiting and lateness cost least: what has a rank stands first, by rank; the rest is the best of
 * several rules of thumb, bettered by moving one task until no move betters it (of very many, among the first); where few are
 * open, by branch and bound over who begins what when (Land & Doig 1960; bound: {@link minCost}).
 *
 * @returns the same for the same; tasks that nobody can do stand last and are done at infinity
 */
export function orderWork(tasks: readonly Task[], day: BenchDay, options: OrderOptions = {}): WorkOrder {
  const bound = minCost(tasks, day);
  const search = new ListSearch(tasks, day, options);
  const found = search.run();
  const plan = dispatchTasks(tasks, day, found, options.places);
  const isFree = tasks.every((t) => t.rank === null);
  if (!isFree || tasks.length > settings.exactTasks || plan.cost === Infinity)
    return { ...plan, order: found, bound: Math.min(bound, plan.cost), isBest: plan.cost <= bound };
  const exact = branchAndBound(tasks, day, options.places ?? [], plan, bound);
  return {
    ...exact.plan,
    order: orderOf(exact.plan, tasks),
    bound: exact.bound,
    isBest: exact.bound >= exact.plan.cost,
  };
}

/** Tasks in the order in which a plan begins them. */
function orderOf({ placed }: Plan, tasks: readonly Task[]): number[] {
  const first = new Map<number, number>();
  for (const p of placed) if (!first.has(p.task)) first.set(p.task, p.start);
  return tasks
    .map((_, k) => k)
    .sort((a, b) => (first.get(tasks[a].id) ?? Infinity) - (first.get(tasks[b].id) ?? Infinity));
}

/** What a list costs, with the bench as it was before each place of the list was first reached. */
interface Base {
  list: number[];
  cost: number;
  before: { state: BenchState; sum: number }[];
}

/** Lists bettered by moving one task to another place, until no move betters them. */
class ListSearch {
  private left: number;
  private readonly tasks: readonly Task[];
  private readonly day: BenchDay;
  private readonly options: OrderOptions;
  /** What each task costs at least, and of those that anybody can do, the sum. */
  private readonly leastCosts: number[];
  private readonly leastSum: number;

  constructor(tasks: readonly Task[], day: BenchDay, options: OrderOptions) {
    this.tasks = tasks;
    this.day = day;
    this.options = options;
    this.left = options.tries ?? Infinity;
    this.leastCosts = tasks.map((t) => {
      const done = aloneDone(t, day);
      return done < Infinity ? costOf(t, done, day) : 0;
    });
    this.leastSum = this.leastCosts.reduce((sum, c) => sum + c, 0);
  }

  /**
   * The best list that is found from the rules of thumb. The list that is there begins nothing, so that the same jobs are
   * always ordered alike; it is kept where it costs the same and no move betters it either.
   */
  run(): number[] {
    const found = this.starts()
      .map((list) => this.baseOf(list))
      .reduce((best, base) => (base.cost < best.cost - settings.minGain ? base : best));
    const best = this.better(found);
    if (!this.options.before) return best.list;
    const before = this.baseOf(this.ranked(this.options.before));
    return before.cost <= best.cost + settings.minGain && this.better(before) === before ? before.list : best.list;
  }

  private starts(): number[][] {
    const { tasks, day } = this;
    const price = byPrice(tasks, day);
    const rank = new Map(price.map((task, k) => [task, k]));
    const due = (k: number): number => tasks[k].due ?? Infinity;
    const byDue = [...price].sort((a, b) => due(a) - due(b) || (rank.get(a) ?? 0) - (rank.get(b) ?? 0));
    const urgent = (k: number): boolean => due(k) >= 0 && due(k) < settings.soonMinutes;
    const soonFirst = [...byDue.filter(urgent), ...price.filter((k) => !urgent(k))];
    const wait = (k: number): number => tasks[k].stretches.reduce((sum, s) => sum + s.wait, 0);
    const longWaits = [...price].sort((a, b) => Number(wait(b) > 0) - Number(wait(a) > 0));
    return [price, soonFirst, byDue, longWaits].map((list) => this.ranked(list));
  }

  /** What has a rank stands first. */
  private ranked(list: readonly number[]): number[] {
    const rank = (k: number): number => this.tasks[k].rank ?? Infinity;
    return [...list].sort((a, b) => (rank(a) === rank(b) ? 0 : rank(a) - rank(b)));
  }

  private baseOf(list: number[]): Base {
    const before: Base['before'] = [];
    const start = { state: initialState(this.tasks, this.day, this.options.places), sum: this.leastSum };
    return { list, cost: this.workOff(list, start, Infinity, before), before };
  }

  /**
   * What a list costs; Infinity where that is more than a limit. What can never be done costs the same in any order: nothing.
   *
   * @param before filled with the bench as it was before each place was first reached, where given
   */
  private workOff(
    list: readonly number[],
    start: Base['before'][number],
    limit: number,
    before: Base['before'] = [],
  ): number {
    this.left--;
    const { tasks, day } = this;
    const state = copyState(start.state);
    let sum = start.sum;
    const open = list.filter((task) => state.next[task] < tasks[task].stretches.length);
    const places = new Map(list.map((task, place) => [task, place]));
    while (open.length > 0 && sum <= limit) {
      const who = nextFree(state);
      if (state.free[who] === Infinity) break;
      const at = open.findIndex((task) => canStart(state, tasks, day, task, who));
      if (at < 0) {
        idleUntilNext(state, tasks, day, who, open);
        continue;
      }
      const task = open[at];
      for (let place = before.length; place <= (places.get(task) ?? 0); place++)
        before.push({ state: copyState(state), sum });
      startTask(state, tasks, day, task, who);
      if (state.next[task] < tasks[task].stretches.length) continue;
      open.splice(at, 1);
      if (state.ready[task] < Infinity) sum += costOf(tasks[task], state.ready[task], day) - this.leastCosts[task];
    }
    return sum > limit ? Infinity : sum;
  }

  /** The list when no move of one task betters it, or when the tries are used up; the same object where none does. */
  private better(base: Base): Base {
    const fixed = this.tasks.filter((t) => t.rank !== null).length;
    const end = Math.min(base.list.length, fixed + settings.movedPlaces);
    let best = base;
    for (let at = fixed, inVain = 0; inVain < end - fixed && this.left > 0; inVain++) {
      const moved = this.bestMove(best, at, fixed, end);
      if (moved) [best, inVain] = [this.baseOf(moved), -1];
      at = at + 1 < end ? at + 1 : fixed;
    }
    return best;
  }

  /** The list with the task of one place where it costs least; null where it stands there already. */
  private bestMove({ list, cost, before }: Base, from: number, fixed: number, end: number): number[] | null {
    let best: number[] | null = null;
    let least = cost - settings.minGain;
    for (let to = fixed; to < end; to++) {
      if (to === from) continue;
      const next = [...list];
      next.splice(to, 0, ...next.splice(from, 1));
      const start = before[Math.min(from, to)];
      // No place from there on is ever reached: whatever stands there.
      const c = start ? this.workOff(next, start, least) : Infinity;
      if (c < least) [best, least] = [next, c];
    }
    return best;
  }
}

/** Everything that can be begun, tried; branches that cannot be better are cut off. */
function branchAndBound(
  tasks: readonly Task[],
  day: BenchDay,
  places: readonly (WorkPlace | null)[],
  found: Plan,
  root: number,
): { plan: Plan; bound: number } {
  let best = found;
  let left = settings.exactNodes;
  /** The least bound of what was not looked into. */
  let unseen = Infinity;
  const price = byPrice(tasks, day);
  const visit = (state: BenchState): void => {
    if (isOver(state, tasks)) {
      const plan = planOf(state, tasks, day);
      if (plan.cost < best.cost) best = plan;
      return;
    }
    const least = boundOf(state, tasks, day);
    if (least >= best.cost - settings.minGain) return;
    if (left-- <= 0) {
      unseen = Math.min(unseen, least);
      return;
    }
    const who = nextFree(state);
    if (state.free[who] === Infinity) return;
    for (const task of price) {
      if (!canStart(state, tasks, day, task, who)) continue;
      const next = copyState(state);
      startTask(next, tasks, day, task, who);
      visit(next);
    }
    const resting = copyState(state);
    const open = price.filter((k) => state.next[k] < tasks[k].stretches.length);
    idleUntilNext(resting, tasks, day, who, open);
    if (resting.free[who] < Infinity) visit(resting);
  };
  visit(initialState(tasks, day, places));
  return { plan: best, bound: Math.min(best.cost, Math.max(root, unseen)) };
}

/** What a plan that has begun so costs at least. */
function boundOf(state: BenchState, tasks: readonly Task[], day: BenchDay): number {
  const open = tasks.map((_, k) => k).filter((k) => state.next[k] < tasks[k].stretches.length);
  const closed = tasks.reduce(
    (sum, t, k) => sum + (state.next[k] >= t.stretches.length ? costOf(t, state.ready[k], day) : 0),
    0,
  );
  const from = Math.min(...state.free);
  return (
    closed +
    minCost(
      open.map((k) => tasks[k]),
      day,
      open.map((k) => Math.max(state.ready[k], from)),
      open.map((k) => state.next[k]),
      state.free,
    )
  );
}
