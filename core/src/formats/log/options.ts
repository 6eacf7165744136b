import type { Instrument } from '../../trace/index.ts';
import { FormatError } from '../error.ts';
import type { ColumnMapping } from './column-roles.ts';
import type { Layout } from './sniff.ts';

export interface LogOptions {
  /** Name for messages. */
  file?: string;
  /** What a person says about the columns; wins over everything. */
  mapping?: ColumnMapping | null;
  /** Units by column name from a table schema. */
  units?: Record<string, string>;
  /** Rows a second where the file has no time and says no rate. */
  rateHz?: number | null;
  /** What corrects the readings: one that turns the sign itself keeps the reader from doing so. */
  instrument?: Pick<Instrument, 'gainA' | 'gainV'>;
  /** What to do with a log that holds no reading: refused unless it is one of several runs, which are not lost for it. */
  blank?: 'refuse' | 'warn';
}

/** What was mended while reading, with counts, in words. */
export interface LogResult {
  rows: number;
  repairs: string[];
  warnings: string[];
  /** Start of the recording where the file says it, ISO 8601. */
  startedAt: string | null;
  hasCurrent: boolean;
  hasVoltage: boolean;
}

/** The reader cannot be sure of the columns: what it saw, so that a person can say. */
export class UnsureColumnsError extends FormatError {
  readonly header: string[] | null;
  readonly sample: string[][];

  constructor(file: string, doubt: string, layout: Layout) {
    super(file, '', `${doubt}; choose the columns for time, voltage and current`);
    this.header = layout.header;
    this.sample = layout.rows.slice(0, 6);
  }
}
