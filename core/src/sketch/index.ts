export * from './sketch.ts';
