export { parseTypedLine, type TypedLine, type TypedStep } from './parse.ts';
export { readTypedRun, type TypedRun } from './build.ts';
export { readTypedTogether } from './together.ts';
