export * from './random.ts';
export * from './sketch.ts';
