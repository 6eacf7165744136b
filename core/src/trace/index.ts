export * from './types.ts';
export * from './correct.ts';
export * from './statistics.ts';
export * from './noise.ts';
export * from './summary.ts';
export * from './collector.ts';
export * from './envelope.ts';
export * from './random.ts';
