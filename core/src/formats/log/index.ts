export { LogReader, readLog, UnsureColumnsError, type LogOptions, type LogResult } from './reader.ts';
export type { ColumnMapping } from './columns.ts';
export type { RowSink } from './order.ts';
export { logHeader, writeLog } from './write.ts';
