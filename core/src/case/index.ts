export * from './ids.ts';
export * from './record.ts';
export * from './records.ts';
export * from './values.ts';
export * from './defaults.ts';
export * from './change-words.ts';
export * from './action-notes.ts';
export { countedCase, isDone, lastDone, placeName } from './counted.ts';
export { measuredOf, sayMeasured, typeMeasured, type Measured } from './reading-words.ts';
