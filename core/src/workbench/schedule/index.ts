export { byPrice, lowerBound } from './bound.ts';
export { dispatch, workUntil } from './dispatch.ts';
export {
  costOf,
  delayPrice,
  handsOn,
  undoable,
  type BenchDay,
  type Placed,
  type Plan,
  type Span,
  type Stretch,
  type Task,
  type Technician,
} from './problem.ts';
export { solve, type Solution, type SolveOptions } from './solve.ts';
