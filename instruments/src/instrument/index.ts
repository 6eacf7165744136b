export * from './seen-source.ts';
export * from './source.ts';
export { AnswerProblem } from './scpi-line.ts';
export * from './supply.ts';
export * from './supply-source.ts';
export * from './meter-source.ts';
export { ClockMap } from './clock.ts';
