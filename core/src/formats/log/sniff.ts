import { isAbsent, isDataCell, isNumber } from './cells.ts';
import { logicalLines } from './logical-lines.ts';
import { timeFormOf } from './time.ts';

type Delimiter = ',' | ';' | '\t' | ' ' | '|';

/** What the first part of a file says about its form. */
export interface Layout {
  newline: '\n' | '\r';
  delimiter: Delimiter;
  decimalComma: boolean;
  /** Lines above the header. */
  preamble: string[];
  header: string[] | null;
  units: string[] | null;
  /** Line (from 0) on which the readings begin. */
  firstRow: number;
  /** Some rows of readings, as cells. */
  rows: string[][];
  /** The cell before a comma that belongs to the time and not between two cells, in files cut at commas. */
  cutTimeAt: number | null;
}

const delimiters: Delimiter[] = [';', '\t', ',', '|', ' '];

/** Puts a time that was cut at its decimal comma together again. */
export function joinCutTime(cells: string[], at: number | null): string[] {
  if (at === null || cells.length < at + 2) return cells;
  return [...cells.slice(0, at), `${cells[at]}.${cells[at + 1]}`, ...cells.slice(at + 2)];
}

/** Splits one line; a quoted field may hold the delimiter. */
export function splitLine(line: string, delimiter: Delimiter): string[] {
  if (delimiter === ' ') return line.trim().split(/\s+/);
  if (!line.includes('"')) return line.split(delimiter).map((cell) => cell.trim());
  const cells: string[] = [];
  let cell = '';
  let quoted = false;
  for (const character of line) {
    if (character === '"') quoted = !quoted;
    else if (character === delimiter && !quoted) {
      cells.push(cell.trim());
      cell = '';
    } else cell += character;
  }
  cells.push(cell.trim());
  return cells;
}

function isTimeLike(cell: string): boolean {
  const form = timeFormOf(cell);
  return form === 'clock' || form === 'date-time';
}

/** A line of readings: at least one number, and nothing that is neither number, time nor absent. */
function isRow(cells: string[]): boolean {
  let numbers = 0;
  let foreign = 0;
  for (const cell of cells) {
    if (isNumber(cell) || isTimeLike(cell)) numbers++;
    else if (isDataCell(cell)) {
      if (!isAbsent(cell)) numbers++;
    } else foreign++;
  }
  return numbers > 0 && foreign <= Math.max(0, Math.floor((cells.length - 1) / 3)) && !/^#/.test(cells[0]);
}

/**
 * Finds delimiter, decimal sign, header and first row in the first part of a file.
 *
 * @param text the beginning of the file, whole lines
 * @returns null where there are no rows of numbers
 */
export function sniffLayout(text: string): Layout | null {
  const newline = !text.includes('\n') && text.includes('\r') ? '\r' : '\n';
  const physical = text.split(newline, 3000).map((line) => line.replace(/\r$/, '').replace(/^\ufeff/, ''));
  const logical = logicalLines(physical);
  const lines = logical.map((line) => (/^"?sep=.?"?$/i.test(line.text.trim()) ? '' : line.text));
  let best: { delimiter: Delimiter; score: number; first: number; width: number } | null = null;
  for (const delimiter of delimiters) {
    const found = findRows(lines, delimiter);
    if (found && (best === null || found.score > best.score * 1.02)) best = { delimiter, ...found };
  }
  if (!best) return headerOnly(lines, newline);
  const { delimiter, first, width } = best;
  const cut = lines
    .slice(first, first + 400)
    .map((line) => splitLine(line, delimiter))
    .filter((r) => r.length === width && isRow(r));
  const cutTimeAt = delimiter === ',' ? findCutTime(cut, lines.slice(0, first)) : null;
  const rows = cut.map((cells) => joinCutTime(cells, cutTimeAt));
  const above = headerAbove(lines, first, delimiter, cutTimeAt === null ? width : width - 1);
  const firstRow = logical[first].at;
  return { newline, delimiter, decimalComma: usesComma(rows, delimiter), firstRow, rows, cutTimeAt, ...above };
}

/** Where the cells after a time are its fraction: they end in an offset, or the header has one column less. */
function findCutTime(rows: string[][], above: string[]): number | null {
  const at = rows[0]?.findIndex((cell) => isTimeLike(cell)) ?? -1;
  if (at < 0) return null;
  const width = rows[0].length;
  const isWhole = (r: string[]): boolean => /:\d{2}$/.test(r[at]);
  if (rows.every((r) => isWhole(r) && /^\d{1,9}(Z|[+-]\d{2}:?\d{2})$/i.test(r[at + 1] ?? ''))) return at;
  const header = above.findLast((line) => line.trim() !== '');
  const isShort = header !== undefined && splitLine(header, ',').length === width - 1;
  return isShort && rows.every((r) => isWhole(r) && /^\d{1,9}$/.test(r[at + 1] ?? '')) ? at : null;
}

/** The most common width among lines of readings, and where they begin. */
function findRows(lines: string[], delimiter: Delimiter): { score: number; first: number; width: number } | null {
  const widths = new Map<number, number>();
  const cells = lines.map((line) => (line.trim() === '' ? [] : splitLine(line, delimiter)));
  const good = cells.map((c) => c.length >= 1 && isRow(c));
  cells.forEach((c, k) => good[k] && widths.set(c.length, (widths.get(c.length) ?? 0) + 1));
  let width = 0;
  let count = 0;
  for (const [w, n] of widths) if (n * Math.min(w, 3) > count * Math.min(width, 3)) [width, count] = [w, n];
  if (count === 0) return null;
  const decimals = delimiter === ',' ? cells.filter((c, k) => good[k] && looksLikeSplitDecimals(c)).length : 0;
  const score = (count - 0.9 * decimals) * (width === 1 ? 0.2 : Math.min(width, 3));
  const first = cells.findIndex((c, k) => good[k] && c.length === width);
  return { score, first, width };
}

/** `0,5;5,02` read with a comma as delimiter leaves cells such as `5;5`: not one of the forms above. This is `0,500 5,02`. */
function looksLikeSplitDecimals(cells: string[]): boolean {
  return cells.some((cell) => /^\d+\s+\d+$/.test(cell));
}

function usesComma(rows: string[][], delimiter: Delimiter): boolean {
  if (delimiter === ',') {
    // In quotes: a decimal comma, unless others have a decimal point and the comma sets thousands apart.
    const cells = rows.flat();
    const isComma = (cell: string): boolean => /^[+-]?\d+,\d+([eE][+-]?\d+)?(\s*[a-zA-Zµ]+)?$/.test(cell);
    return cells.some(isComma) && !cells.some((cell) => !isTimeLike(cell) && /\d\.\d/.test(cell));
  }
  let comma = 0;
  let point = 0;
  for (const row of rows) {
    for (const cell of row) {
      if (/^[+-]?\d*,\d+/.test(cell)) comma++;
      else if (/^[+-]?\d*\.\d+/.test(cell)) point++;
    }
  }
  return comma > point;
}

function headerAbove(lines: string[], first: number, delimiter: Delimiter, width: number) {
  const above: { cells: string[]; line: number }[] = [];
  for (let k = first - 1; k >= 0 && above.length < 3; k--) {
    const text = lines[k].replace(/^[#;%]+\s*/, '');
    if (text.trim() === '') continue;
    const cells = splitLine(text, delimiter);
    const fits =
      delimiter === ' ' ? cells.length >= 2 : cells.length >= Math.max(1, width - 1) && cells.length <= width + 1;
    if (!fits || cells.every((cell) => isDataCell(cell))) break;
    above.push({ cells, line: k });
  }
  const [nearest, second] = above;
  if (!nearest) return { header: null, units: null, preamble: lines.slice(0, first) };
  const filled = (cells: string[]): number => cells.filter((c) => c !== '').length;
  const nearestIsUnits =
    second !== undefined &&
    filled(second.cells) >= filled(nearest.cells) &&
    nearest.cells.filter((c) => c !== '').every((c) => isUnitCell(c));
  const header = nearestIsUnits ? second : nearest;
  return {
    header: header.cells,
    units: nearestIsUnits ? nearest.cells : null,
    preamble: lines.slice(0, header.line),
  };
}

function isUnitCell(cell: string): boolean {
  return /^[[(]?\s*(m|u|µ|k)?(s|sec|v|a|w|wh|ah|hz|ohm|Ω|°?c|date|time|hh:mm:ss(\.f+)?|-|#)\s*[\])]?$/i.test(cell);
}

/** A file with a header that names a current or a voltage but without a single row. */
function headerOnly(lines: string[], newline: '\n' | '\r'): Layout | null {
  const filled = lines.filter((line) => line.trim() !== '');
  if (filled.length === 0 || filled.length > 40) return null;
  for (const line of filled.slice(0, 20).reverse()) {
    for (const delimiter of delimiters) {
      const cells = splitLine(line.replace(/^[#;%]+\s*/, ''), delimiter);
      const named = cells.filter(
        (c) =>
          /^(current|amps?|i|curr|ibus|voltage|volts?|v|vbus|u|time|elapsed|t)([^a-z]|$)/i.test(c) && c.length < 30,
      );
      if (cells.length >= 2 && named.length >= 2) {
        const absent = filled
          .map((l) => splitLine(l, delimiter))
          .filter((c) => c.length === cells.length && c.every(isAbsent));
        return {
          newline,
          delimiter,
          decimalComma: false,
          preamble: [],
          header: cells,
          units: null,
          firstRow: lines.length,
          rows: absent,
          cutTimeAt: null,
        };
      }
    }
  }
  return null;
}
