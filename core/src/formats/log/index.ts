export { LogReader, readLog } from './reader.ts';
export { UnsureColumnsError, type LogOptions, type LogResult } from './options.ts';
export type { ColumnMapping } from './column-roles.ts';
export type { RowSink } from './order.ts';
export { logHeader, writeLog } from './write.ts';
