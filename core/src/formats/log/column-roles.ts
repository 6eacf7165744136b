import { type TimeForm } from './time.ts';

/** Which column is what, with the factors to seconds, volts and amperes. */
export interface Columns {
  time: { index: number; form: TimeForm; factor: number } | null;
  /** A date beside a clock. */
  date: number | null;
  voltage: { index: number; factor: number } | null;
  current: { index: number; factor: number } | null;
  /** Rows a second where only a counter tells the time. */
  rateHz: number | null;
  /** What was taken from the magnitude rather than from a name, in words. */
  guesses: string[];
  warnings: string[];
}

/** Why the columns could not be told: a person can say, or the file is not what is wanted at all. */
export type ColumnDoubt = { doubt: string } | { refusal: string };

/** What someone says about the columns; indices from 0. */
export interface ColumnMapping {
  time: number | null;
  timeUnit?: 's' | 'ms' | 'us';
  rateHz?: number | null;
  voltage: number | null;
  voltageUnit?: 'V' | 'mV';
  current: number | null;
  currentUnit?: 'A' | 'mA' | 'uA';
}

/** What is known of a file beside what it says itself. */
export interface ColumnHints {
  /** Units by column name from a table schema; they win over the file. */
  units: Record<string, string>;
  /** Readings a second where the file has no time and states no rate. */
  rateHz: number | null;
  /** Whether a quantity that is negative throughout may have its sign turned. */
  turns: { current: boolean; voltage: boolean };
}
