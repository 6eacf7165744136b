export * from './transport/index.ts';
export * from './dialect/index.ts';
export * from './instrument/index.ts';
export * from './simulated/index.ts';
export * from './recorder/index.ts';
