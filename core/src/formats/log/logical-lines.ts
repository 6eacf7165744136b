/** A line as a table means it: a field in quotes may go on over several lines of the file. */
interface LogicalLine {
  text: string;
  /** The line of the file on which it begins, from 0. */
  at: number;
}

/** More lines than a heading has; a lone quotation mark (an inch) must not swallow the readings. */
const longestField = 16;

const countQuotes = (text: string): number => text.split('"').length - 1;

/**
 * Joins lines inside quoted fields.
 *
 * @param lines lines of the file, without their ends
 * @returns the same text as logical lines; a quotation mark that does not close within them is left alone
 */
export function logicalLines(lines: readonly string[]): LogicalLine[] {
  const out: LogicalLine[] = [];
  for (let k = 0; k < lines.length; k++) {
    let text = lines[k];
    let end = k;
    if (countQuotes(text) % 2 === 1) {
      let joined = text;
      for (let j = k + 1; j < Math.min(lines.length, k + longestField); j++) {
        joined += ` ${lines[j]}`;
        if (countQuotes(joined) % 2 === 0) {
          text = joined;
          end = j;
          break;
        }
      }
    }
    out.push({ text, at: k });
    k = end;
  }
  return out;
}
