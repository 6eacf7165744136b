import { readCell } from './cells.ts';
import type { Layout } from './sniff.ts';

/** The numbers of a column in the rows that were looked at. */
export function numbersOf(layout: Layout, index: number): number[] {
  return layout.rows.map((r) => readCell(r[index], layout.decimalComma, 1)).filter((x) => Number.isFinite(x));
}
