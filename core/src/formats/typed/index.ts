export { parseTypedLine, type TypedLine, type TypedStep } from './parse.ts';
export { readTypedRun } from './build.ts';
export { readTypedTogether } from './together.ts';
