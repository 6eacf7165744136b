import type { WorkPlace } from '../../catalogue/index.ts';
import { seededRandom } from '../../trace/index.ts';
import { byPrice, minCost } from './least-cost.ts';
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
  /** An order that is already there, of indices: it is not left for the same. */
  before?: readonly number[];
  /** Where everybody is working now. */
  places?: readonly (WorkPlace | null)[];
  /** Lists that are tried at most; fewer the longer they are, where left out. */
  tries?: number;
}

/**
 * The order of work in which waiting and lateness cost least: what has a rank stands first, by rank; the rest is the best of
 * several rules of thumb, bettered by moving one task at a time; where few are open, by branch and bound over who begins what
 * when (Land & Doig 1960; bound: {@link minCost}).
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

/** Lists bettered by moving one task to another place. */
class ListSearch {
  private left: number;
  private readonly tasks: readonly Task[];
  private readonly day: BenchDay;
  private readonly options: OrderOptions;

  constructor(tasks: readonly Task[], day: BenchDay, options: OrderOptions) {
    this.tasks = tasks;
    this.day = day;
    this.options = options;
    this.left = options.tries ?? Math.max(settings.minTries, Math.round(settings.placings / Math.max(1, tasks.length)));
  }

  run(): number[] {
    const starts = this.starts();
    let best = starts[0];
    let cost = Infinity;
    for (const list of starts) {
      const c = this.costOf(list);
      // The first is the order that is there: another one must be better by more than a rounding.
      if (c < cost - settings.minGain) [best, cost] = [list, c];
    }
    return this.better(best, cost);
  }

  /** The order that is there, then rules of thumb. */
  private starts(): number[][] {
    const { tasks, day, options } = this;
    const price = byPrice(tasks, day);
    const rank = new Map(price.map((task, k) => [task, k]));
    const due = (k: number): number => tasks[k].due ?? Infinity;
    const byDue = [...price].sort((a, b) => due(a) - due(b) || (rank.get(a) ?? 0) - (rank.get(b) ?? 0));
    const urgent = (k: number): boolean => due(k) >= 0 && due(k) < settings.soonMinutes;
    const soonFirst = [...byDue.filter(urgent), ...price.filter((k) => !urgent(k))];
    const wait = (k: number): number => tasks[k].stretches.reduce((sum, s) => sum + s.wait, 0);
    const longWaits = [...price].sort((a, b) => Number(wait(b) > 0) - Number(wait(a) > 0));
    const before = options.before ? [[...options.before]] : [];
    return [...before, price, soonFirst, byDue, longWaits].map((list) => this.ranked(list));
  }

  /** What has a rank stands first. */
  private ranked(list: readonly number[]): number[] {
    const rank = (k: number): number => this.tasks[k].rank ?? Infinity;
    return [...list].sort((a, b) => (rank(a) === rank(b) ? 0 : rank(a) - rank(b)));
  }

  private costOf(list: readonly number[]): number {
    this.left--;
    const { cost, done } = dispatchTasks(this.tasks, this.day, list, this.options.places);
    if (cost < Infinity) return cost;
    // What can never be done costs the same in any order.
    return this.tasks.reduce((sum, t, k) => sum + (done[k] < Infinity ? costOf(t, done[k], this.day) : 0), 0);
  }

  private better(list: number[], cost: number): number[] {
    const random = seededRandom(settings.seed);
    let [best, least] = [list, cost];
    const fixed = this.tasks.filter((t) => t.rank !== null).length;
    const movable = best.length - fixed;
    if (movable < 2) return best;
    let inVain = 0;
    while (this.left > 0 && inVain < settings.patience * movable) {
      const next = [...best];
      const from = fixed + Math.floor(random() * movable);
      const [moved] = next.splice(from, 1);
      // Near moves as often as far ones: the first places are what is worked by.
      const reach = random() < 0.5 ? settings.nearMove : movable;
      const to = Math.min(fixed + movable - 1, Math.max(fixed, from + Math.round((random() * 2 - 1) * reach)));
      next.splice(to, 0, moved);
      const c = to === from ? least : this.costOf(next);
      if (c < least - settings.minGain) {
        [best, least] = [next, c];
        inVain = 0;
      } else inVain++;
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
