export { byPrice, minCost } from './least-cost.ts';
export { dispatchTasks, workUntil } from './dispatch.ts';
export {
  costOf,
  delayPrice,
  handsOnMinutes,
  planCost,
  undoableTasks,
  type BenchDay,
  type Placed,
  type Plan,
  type PlanCost,
  type PresenceSpan,
  type Stretch,
  type Task,
  type Technician,
} from './problem.ts';
export { orderWork } from './order-work.ts';
