export * from './transport/index.ts';
export * from './dialect/index.ts';
export * from './instrument/index.ts';
export * from './simulated/index.ts';
export * from './recorder/index.ts';
export type { GuessedFields, Listened, Look, PlacedField, Place, PlacesHere, TaughtBytes } from './recorder/finder.ts';
export type { FoundAt, FoundInstrument, Tried } from './finding/index.ts';
