export * from './day-end.ts';
export { usualBench } from './bench-day.ts';
export * from './hours.ts';
export * from './letters.ts';
export * from './schedule/index.ts';
export * from './waits.ts';
export * from './why-here.ts';
export * from './work-ahead.ts';
export * from './worth.ts';
