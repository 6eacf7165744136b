import type { WorkPlace } from '../../catalogue/index.ts';
import { aloneDone, byPrice, minCost } from './least-cost.ts';
import { copyState, Dispatcher, dispatchTasks, nextFree, workOff, type BenchState } from './dispatch.ts';
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
  /** Lists that are tried at most; where left out, until no move betters any more, or fewer the longer they are. */
  tries?: number;
}

/**
 * The order of work in which waiting and lateness cost least: what has a rank stands first, by rank; the rest is the best of
 * several rules of thumb, bettered by moving one task until no move betters it (of more than sixty, among the first sixty and for so long); where few are
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
  if (exact.plan === plan) return { ...plan, order: found, bound: exact.bound, isBest: exact.bound >= plan.cost };
  // Where not everything could be looked into, a list beside the plan may be better than it.
  const order = search.better(search.baseOf(orderOf(exact.plan, tasks))).list;
  const beside = dispatchTasks(tasks, day, order, options.places);
  const best = beside.cost < exact.plan.cost - settings.minGain ? beside : exact.plan;
  const least = Math.min(exact.bound, best.cost);
  return { ...best, order: best === beside ? order : orderOf(best, tasks), bound: least, isBest: least >= best.cost };
}

/** Tasks in the order in which a plan begins them. */
function orderOf({ placed }: Plan, tasks: readonly Task[]): number[] {
  const first = new Map<number, number>();
  for (const p of placed) if (!first.has(p.task)) first.set(p.task, p.start);
  return tasks
    .map((_, k) => k)
    .sort((a, b) => {
      const [x, y] = [a, b].map((k) => first.get(tasks[k].id) ?? Infinity);
      return x === y ? tasks[a].id - tasks[b].id : x - y;
    });
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
  private readonly dispatcher: Dispatcher;
  private readonly tasks: readonly Task[];
  private readonly day: BenchDay;
  private readonly options: OrderOptions;
  /** What each task costs at least, and of those that anybody can do, the sum. */
  private readonly minCosts: number[];
  private readonly minSum: number;

  constructor(tasks: readonly Task[], day: BenchDay, options: OrderOptions) {
    this.tasks = tasks;
    this.day = day;
    this.options = options;
    this.dispatcher = new Dispatcher(tasks, day, options.places);
    const stretches = tasks.reduce((sum, t) => sum + t.stretches.length, 0);
    const isShort = tasks.length <= settings.movedPlaces;
    this.left = options.tries ?? (isShort ? Infinity : Math.round(settings.placings / stretches));
    this.minCosts = tasks.map((t) => {
      const done = aloneDone(t, day);
      return done < Infinity ? costOf(t, done, day) : 0;
    });
    this.minSum = this.minCosts.reduce((sum, c) => sum + c, 0);
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

  /** A list with what it costs. */
  baseOf(list: number[]): Base {
    const before: Base['before'] = [];
    const state = this.dispatcher.start();
    state.placed = null;
    return { list, cost: this.tryList(list, { state, sum: this.minSum }, Infinity, before), before };
  }

  /**
   * What a list costs; Infinity where that is more than a limit. What can never be done costs the same in any order: nothing.
   *
   * @param start the bench where the list was not looked at yet, and what it costs at least from there
   * @param before filled with the bench as it was before each place was first reached
   */
  private tryList(
    list: readonly number[],
    start: Base['before'][number],
    limit: number,
    before: Base['before'] | null = null,
  ): number {
    this.left--;
    const { tasks, day, dispatcher } = this;
    const state = copyState(start.state);
    let { sum } = start;
    const open = list.filter((task) => !dispatcher.isThrough(state, task));
    workOff(dispatcher, state, open, {
      begins: before
        ? (task) => {
            const place = list.indexOf(task);
            while (before.length <= place) before.push({ state: copyState(state), sum });
          }
        : undefined,
      ends: (task) => {
        if (state.ready[task] < Infinity) sum += costOf(tasks[task], state.ready[task], day) - this.minCosts[task];
        return sum > limit;
      },
    });
    return sum > limit ? Infinity : sum;
  }

  /** The list when no move of one task betters it, or when the tries are used up; the same object where none does. */
  better(base: Base): Base {
    const fixed = this.tasks.filter((t) => t.rank !== null).length;
    const end = Math.min(base.list.length, fixed + settings.movedPlaces);
    let best = base;
    // Near moves are few and find most of it; then every move.
    for (const reach of [settings.nearMove, end])
      for (let at = fixed, inVain = 0; inVain < end - fixed && this.left > 0; inVain++) {
        const moved = this.bestMove(best, at, Math.max(fixed, at - reach), Math.min(end, at + reach + 1));
        if (moved) [best, inVain] = [this.baseOf(moved), -1];
        at = at + 1 < end ? at + 1 : fixed;
      }
    return best;
  }

  /** The list with the task of one place where it costs least; null where it stands there already. */
  private bestMove({ list, cost, before }: Base, from: number, first: number, end: number): number[] | null {
    let best: number[] | null = null;
    let least = cost - settings.minGain;
    for (let to = first; to < end; to++) {
      if (to === from) continue;
      const next = [...list];
      next.splice(to, 0, ...next.splice(from, 1));
      const start = before[Math.min(from, to)];
      // No place from there on is ever reached: whatever stands there.
      const c = start ? this.tryList(next, start, least) : Infinity;
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
  const dispatcher = new Dispatcher(tasks, day, places);
  const visit = (state: BenchState): void => {
    const open = price.filter((k) => !dispatcher.isThrough(state, k));
    if (open.length === 0) {
      const plan = dispatcher.planOf(state);
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
    for (const task of open) {
      if (!dispatcher.canStart(state, task, who)) continue;
      const next = copyState(state);
      dispatcher.startTask(next, task, who);
      visit(next);
    }
    const resting = copyState(state);
    dispatcher.idleUntilNext(resting, who, open);
    if (resting.free[who] < Infinity) visit(resting);
  };
  visit(dispatcher.start());
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
      [...state.free],
    )
  );
}
