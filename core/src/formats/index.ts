export * from './error.ts';
export { readInput } from './bounds.ts';
export * from './typed/index.ts';
export * from './log/index.ts';
export * from './package/index.ts';
export * from './profile/index.ts';
export * from './population/index.ts';
