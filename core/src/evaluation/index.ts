export * from './mismatch.ts';
export * from './virtual-case.ts';
export * from './score.ts';
