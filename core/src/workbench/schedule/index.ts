export { byPrice, leastCost } from './least-cost.ts';
export { dispatch, workUntil } from './dispatch.ts';
export {
  costOf,
  delayPrice,
  handsOn,
  undoable,
  type BenchDay,
  type Placed,
  type Plan,
  type PresenceSpan,
  type Stretch,
  type Task,
  type Technician,
} from './problem.ts';
export { orderWork } from './order-work.ts';
