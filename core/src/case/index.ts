export * from './ids.ts';
export * from './values.ts';
export * from './defaults.ts';
export * from './action-notes.ts';
