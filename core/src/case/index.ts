export * from './ids.ts';
export * from './checks.ts';
export * from './depth.ts';
export * from './values.ts';
