import type { RowSorter } from './order.ts';

/** What became of the rows of a log. */
export interface RowCounts {
  /** Handed on. */
  rows: number;
  /** Left out: words, sums, notes. */
  foreign: number;
  /** Line of the first of them. */
  firstForeign: number;
  absentA: number;
  /** With a voltage or a current. */
  usable: number;
  /** Values beyond anything a bench measures. */
  absurd: number;
  /** Zeros where the meter itself lost power. */
  powerLost: number;
  /** With a time far from all others. */
  farOff: number;
}

export const noRows: Readonly<RowCounts> = {
  rows: 0,
  foreign: 0,
  firstForeign: 0,
  absentA: 0,
  usable: 0,
  absurd: 0,
  powerLost: 0,
  farOff: 0,
};

/**
 * What was mended while a log was read, a sentence each.
 *
 * @param order what the sorter did with the times
 * @param hasCurrent the log has a column of currents
 */
export function sayRepairs(counts: RowCounts, order: RowSorter['repairs'], hasCurrent: boolean): string[] {
  const out: string[] = [];
  const add = (n: number, words: (n: string) => string, noun = 'row'): void => {
    if (n > 0) out.push(words(n === 1 ? `one ${noun}` : `${n} ${noun}s`));
  };
  add(counts.foreign, (n) => `Left out ${n} without a reading (the first on line ${counts.firstForeign}).`);
  add(order.reordered, (n) => `Sorted ${n} by time.`);
  add(order.duplicates, (n) => `Left out ${n} repeating another with the same time.`);
  add(order.spread, (n) => `Spread ${n} with the same time evenly up to the next time.`);
  add(order.late, (n) => `Left out ${n} too far out of order to be sorted.`);
  add(counts.absurd, (n) => `Took ${n} beyond anything a bench measures as missing.`, 'value');
  add(counts.powerLost, (n) => `Left out ${n} of zeros, where the meter itself lost power.`);
  add(counts.farOff, (n) => `Left out ${n} with a time more than a month away from the others.`);
  if (hasCurrent) add(counts.absentA, (n) => `Found ${n} without a value for the current.`);
  return out;
}
