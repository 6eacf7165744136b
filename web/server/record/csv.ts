import Papa from 'papaparse';

/**
 * What a spreadsheet takes for a formula, also behind spaces, in wide letters, and with line breaks in it; and a cell that
 * begins with a break, which some begin a row with.
 */
const formula = /^(?:[\s\u0000]*[=+\-@\uff1d\uff0b\uff0d\uff20]|[\t\r\n])/;

/** A table as CSV (RFC 4180) that is safe to open in a spreadsheet: nothing that was typed begins a formula. */
export function csvOf(rows: readonly Record<string, unknown>[]): string {
  return `${Papa.unparse([...rows], { escapeFormulae: formula })}\r\n`;
}
