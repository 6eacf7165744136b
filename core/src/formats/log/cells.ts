import { findUnit, type Kind } from '../../quantity/index.ts';

const numberForm = /^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$/;
const absentForm = /^(|-+|–+|—+|n\/?a|nan|null|none|ol|o\.l\.?|ovl|overload|#n\/a|\*+|\?+|[+-]?inf(inity)?)$/i;
/** Thousands set apart: `12,500.5`, `12'500`, `12 500`, or `12.500,5` where the comma is the decimal sign. */
const grouped = {
  point: /^[+-]?\d{1,3}(?:[,'\u00a0\u202f ]\d{3})+(?:\.\d+)?$/,
  comma: /^[+-]?\d{1,3}(?:[.'\u00a0\u202f ]\d{3})+(?:,\d+)?$/,
};
const withUnit = /^([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?)\s*([a-zA-Zµμ°Ω]+)$/;

/**
 * True for a cell that holds a plain number, with a point or a comma.
 *
 * @param cell as it stands in the file
 */
export function isNumber(cell: string): boolean {
  return numberForm.test(cell.trim());
}

/**
 * True for a cell that says that there is no value: empty, a dash, `NaN`, `n/a`.
 *
 * @param cell as it stands in the file
 */
export function isAbsent(cell: string): boolean {
  return absentForm.test(cell.trim());
}

/**
 * A number with its unit in the cell, such as `123 mA`; null where there is none.
 *
 * @param cell as it stands in the file
 * @example splitUnit('123 mA') // { text: '123', unit: 'mA', kind: 'current', factor: 0.001 }
 */
export function splitUnit(cell: string): { text: string; unit: string; kind: Kind; factor: number } | null {
  const match = withUnit.exec(cell.trim());
  if (!match) return null;
  const unit = findUnit(match[2]);
  return unit ? { text: match[1], unit: match[2], kind: unit.kind, factor: unit.factor } : null;
}

/** A cell that can stand in a row of readings. */
export function isDataCell(cell: string): boolean {
  const text = cell.trim();
  return (
    isNumber(cell) || isAbsent(cell) || splitUnit(cell) !== null || grouped.point.test(text) || grouped.comma.test(text)
  );
}

/**
 * Reads a cell as a number: NaN where it is absent or no number. A unit in the cell counts.
 *
 * @param factor applied where the cell has no unit of its own
 */
export function readCell(cell: string | undefined, decimalComma: boolean, factor: number): number {
  if (cell === undefined || cell === '') return NaN;
  const plain = decimalComma ? +cell.replace(',', '.') : +cell;
  // Blanks turn into 0 and words such as Infinity into themselves; everything else is a number or not.
  if (plain === plain) return (plain === 0 && cell.trim() === '') || plain - plain !== 0 ? NaN : plain * factor;
  const text = cell.trim();
  if ((decimalComma ? grouped.comma : grouped.point).test(text))
    return Number(text.replace(decimalComma ? /[^\d,+-]/g : /[^\d.+-]/g, '').replace(',', '.')) * factor;
  const split = splitUnit(cell);
  if (!split) return NaN;
  return Number(split.text.replace(',', '.')) * split.factor;
}

/** A cell that holds neither a number nor a mark of absence. */
export const isWord = (cell: string | undefined): boolean => cell !== undefined && !isDataCell(cell);
