export * from './scpi.ts';
export * from './line-stream.ts';
