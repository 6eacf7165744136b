/** Powers of ten that a double holds exactly (Clinger 1990): an integer below 2^53 over one of them is correctly rounded. */
const exactTens = Array.from({ length: 23 }, (_, k) => 10 ** k);
const maxDigits = 15;

const code = { newline: 10, return: 13, space: 32, plus: 43, minus: 45, point: 46, comma: 44, zero: 48, nine: 57 };

/** What the scanner looks for: columns by number, -1 where there is none. */
export interface ScanColumns {
  delimiter: number;
  decimalComma: boolean;
  time: number;
  voltage: number;
  current: number;
}

/**
 * Reads lines of plain numbers straight from the text, without cutting it into cells: most of a long log. A line that
 * holds anything else in a column that matters (words, quotes, units, exponents) goes to `onOther` as it is.
 *
 * @param block whole lines, each ended by a newline, the last perhaps not
 * @param onRow seconds, volts, amperes in the units of the file; NaN where the cell is empty or there is no column
 */
export function scanRows(
  block: string,
  columns: ScanColumns,
  onRow: (time: number, voltage: number, current: number) => void,
  onOther: (line: string) => void,
): void {
  const { delimiter, decimalComma, time, voltage, current } = columns;
  const decimal = decimalComma ? code.comma : code.point;
  const last = Math.max(time, voltage, current);
  const end = block.length;
  let at = 0;
  while (at < end) {
    const start = at;
    let column = 0;
    let plain = true;
    let t = NaN;
    let v = NaN;
    let i = NaN;
    while (column <= last) {
      if (column !== time && column !== voltage && column !== current) {
        let c = 0;
        while (at < end && (c = block.charCodeAt(at)) !== delimiter && c !== code.newline) {
          if (c === 34) plain = false;
          at++;
        }
      } else {
        while (at < end && block.charCodeAt(at) === code.space) at++;
        const first = at;
        let c = at < end ? block.charCodeAt(at) : code.newline;
        const negative = c === code.minus;
        if (negative || c === code.plus) c = block.charCodeAt(++at);
        let digits = 0;
        let fraction = 0;
        let mantissa = 0;
        let pointed = false;
        for (; ; c = block.charCodeAt(++at)) {
          if (c >= code.zero && c <= code.nine) {
            mantissa = mantissa * 10 + (c - code.zero);
            digits++;
            if (pointed) fraction++;
          } else if (c === decimal && !pointed) pointed = true;
          else break;
        }
        const empty = at === first;
        while (at < end && (c = block.charCodeAt(at)) <= code.space && c !== delimiter && c !== code.newline) at++;
        const ended = at >= end || c === delimiter || c === code.newline;
        if (!ended || digits > maxDigits || (digits === 0 && !empty)) {
          plain = false;
          break;
        }
        const value = empty ? NaN : (negative ? -mantissa : mantissa) / exactTens[fraction];
        if (column === time) t = value;
        else if (column === voltage) v = value;
        else i = value;
      }
      if (at >= end || block.charCodeAt(at) === code.newline) break;
      at++;
      column++;
    }
    if (column < last) plain = false;
    const newline = block.indexOf('\n', at);
    at = newline < 0 ? end : newline + 1;
    if (plain) onRow(t, v, i);
    else onOther(block.slice(start, newline < 0 ? end : newline).replace(/\r$/, ''));
  }
}
