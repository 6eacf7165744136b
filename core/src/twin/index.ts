export * from './profile.ts';
export * from './board.ts';
export * from './fault.ts';
export * from './condition.ts';
export { goodShare, heatOf, makeWorkspace, solve, type Condition, type Solution, type Workspace } from './solve.ts';
export * from './startup.ts';
export * from './shipped.ts';
export * from './record.ts';
