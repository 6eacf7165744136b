import { FormatError } from '../error.ts';
import type { ColumnMapping, Columns } from './column-roles.ts';
import type { Layout } from './sniff.ts';
import { parseDateTime } from './time.ts';

const factor = { s: 1, ms: 1e-3, us: 1e-6, V: 1, mV: 1e-3, A: 1, mA: 1e-3, uA: 1e-6 };

/**
 * The columns as a person says them.
 *
 * @throws {FormatError} where a column is named that the file has not
 */
export function mappedColumns(layout: Layout, mapping: ColumnMapping): Columns {
  const width = Math.max(layout.header?.length ?? 0, ...layout.rows.map((r) => r.length));
  for (const index of [mapping.time, mapping.voltage, mapping.current]) {
    if (index !== null && !(Number.isInteger(index) && index >= 0 && index < width)) {
      throw new FormatError('', 'column mapping', `there is no column ${index + 1}; expected 1 to ${width}`);
    }
  }
  const cell = mapping.time === null ? '' : (layout.rows[0]?.[mapping.time] ?? '');
  const form = parseDateTime(cell) === parseDateTime(cell) ? 'date-time' : /:/.test(cell) ? 'clock' : 'number';
  return {
    time: mapping.time === null ? null : { index: mapping.time, form, factor: factor[mapping.timeUnit ?? 's'] },
    date: null,
    voltage: mapping.voltage === null ? null : { index: mapping.voltage, factor: factor[mapping.voltageUnit ?? 'V'] },
    current: mapping.current === null ? null : { index: mapping.current, factor: factor[mapping.currentUnit ?? 'A'] },
    rateHz: mapping.time === null ? (mapping.rateHz ?? 1) : null,
    guesses: [],
    warnings: [],
  };
}
