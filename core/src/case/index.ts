export * from './ids.ts';
export * from './values.ts';
