import { explainWrongUnit, findUnit, type Kind } from '../../quantity/index.ts';
import { readHeaderCell, roleOf, type Role } from './header.ts';
import { statedRate } from './rate.ts';
import { median } from '../../trace/index.ts';
import { isAbsent, readCell, splitUnit } from './cells.ts';
import type { Layout } from './sniff.ts';
import { timeFormOf } from './time.ts';
import { timeColumn } from './time-column.ts';
import { numbersOf } from './column-numbers.ts';
import { type Columns, type ColumnDoubt, type ColumnHints } from './column-roles.ts';

const kindOf: Partial<Record<Role, Kind>> = { time: 'time', current: 'current', voltage: 'voltage' };

/**
 * Says which column holds time, voltage and current.
 *
 * @returns the columns, or what is in doubt, in words
 */
export function identifyColumns(layout: Layout, hints: ColumnHints): Columns | ColumnDoubt {
  const columns: Columns = {
    time: null,
    date: null,
    voltage: null,
    current: null,
    rateHz: null,
    guesses: [],
    warnings: [],
  };
  const found = layout.header ? byHeader(layout, hints.units, columns) : byContent(layout, columns);
  if (found) return found;
  const chargeCell =
    columns.current && layout.rows.map((r) => wrongUnitIn(r[columns.current!.index] ?? '')).find(Boolean);
  if (chargeCell) return { refusal: `The current column is not a current: ${chargeCell}` };
  for (const kind of ['voltage', 'current'] as const) if (hints.turns[kind]) turnReversed(layout, columns, kind);
  if (!columns.current && !columns.voltage) return { doubt: 'no column is named current or voltage' };
  if (!columns.time) {
    columns.rateHz = statedRate(layout.preamble) ?? hints.rateHz;
    if (columns.rateHz === null) return { doubt: 'there is no time column and no stated sampling rate' };
    columns.guesses.push(`Time was counted from the rows, at ${columns.rateHz} readings a second.`);
  }
  return columns;
}

function byHeader(layout: Layout, stated: Record<string, string>, columns: Columns): ColumnDoubt | null {
  const header = layout.header ?? [];
  const shift = headerShift(layout);
  const taken = header.map((cell, k) => {
    const { name, unit, wrongUnit } = readHeaderCell(cell);
    const unitLine = layout.units?.[k]?.replace(/[[\]()]/g, '').trim() || null;
    const schema = Object.hasOwn(stated, cell.trim()) ? stated[cell.trim()] : null;
    const fileUnit = unit ?? (unitLine && findUnit(unitLine) ? unitLine : null);
    if (schema && fileUnit && findUnit(schema)?.factor !== findUnit(fileUnit)?.factor) {
      columns.warnings.push(
        `Column "${cell.trim()}" says ${fileUnit}, but the table schema says ${schema}; the schema was used.`,
      );
    }
    let role = roleOf(name);
    if (role === null || role === 'other') role = role === null ? roleByUnit(schema ?? fileUnit) : role;
    return {
      index: k + shift,
      cell: cell.trim(),
      role,
      unit: schema ?? fileUnit,
      wrongUnit: schema ? null : (wrongUnit ?? explainWrongUnit(unitLine ?? '')),
    };
  });
  const charge = taken.find((c) => c.wrongUnit !== null);
  const pick = (role: Role) => {
    const all = taken.filter((c) => c.role === role && c.wrongUnit === null);
    return all.find((c) => hasValues(layout, c.index)) ?? all[0] ?? null;
  };
  const currents = taken.filter((c) => c.role === 'current' && hasValues(layout, c.index));
  if (currents.length > 1 && new Set(currents.map((c) => c.cell)).size === 1) {
    return { doubt: `${currents.length} columns are named "${currents[0].cell}"` };
  }
  if (charge && !taken.some((c) => c.role === 'current' && c.wrongUnit === null)) {
    const says = `Column "${charge.cell}" is not a current: ${charge.wrongUnit}`;
    if (charge.role === 'current') return { refusal: says };
    columns.warnings.push(`${says}.`);
  }
  const time = pick('time') ?? pick('date');
  const counter = pick('counter');
  if (time) columns.time = timeColumn(layout, time.index, time.unit, columns);
  const date = pick('date');
  if (date && time && date.index !== time.index && columns.time?.form === 'clock') columns.date = date.index;
  if (!columns.time && counter && statedRate(layout.preamble) === null) columns.time = null;
  const current = pick('current');
  const voltage = pick('voltage');
  if (voltage)
    columns.voltage = {
      index: voltage.index,
      factor: factorOf(layout, voltage.index, voltage.unit, 'voltage', columns),
    };
  if (current)
    columns.current = {
      index: current.index,
      factor: factorOf(layout, current.index, current.unit, 'current', columns),
    };
  return null;
}

/** A row may have a trailing empty cell, or a date split from its time by a space: the header is then one short. */
function headerShift(layout: Layout): number {
  if (layout.delimiter !== ' ' || !layout.header || layout.rows.length === 0) return 0;
  return Math.max(0, Math.min(1, layout.rows[0].length - layout.header.length));
}

function roleByUnit(unit: string | null): Role | null {
  const kind = unit ? findUnit(unit)?.kind : null;
  return kind === 'current' ? 'current' : kind === 'voltage' ? 'voltage' : kind === 'time' ? 'time' : null;
}

/** Why the unit in a cell is none of a current or a voltage; null where there is none or it is one. */
function wrongUnitIn(cell: string): string | null {
  const unit = /^[+-]?[\d.,]+\s*([a-zA-Zµ]+)$/.exec(cell.trim())?.[1];
  return unit ? explainWrongUnit(unit) : null;
}

function hasValues(layout: Layout, index: number): boolean {
  return layout.rows.length === 0 || layout.rows.some((r) => r[index] !== undefined && !isAbsent(r[index]));
}

function factorOf(
  layout: Layout,
  index: number,
  unit: string | null,
  kind: 'current' | 'voltage',
  columns: Columns,
): number {
  const stated = unit ? findUnit(unit) : null;
  if (stated && stated.kind === kindOf[kind]) return stated.factor;
  if (layout.rows.some((r) => splitUnit(r[index] ?? '')?.kind === kind)) return 1;
  const values = numbersOf(layout, index);
  const largest = Math.max(0, ...values.map(Math.abs));
  const whole = layout.rows.every((r) => !/[.,]\d/.test(r[index] ?? ''));
  const milli =
    kind === 'current'
      ? largest > 25 || (whole && (largest >= 5 || columns.voltage?.factor === 1e-3))
      : largest > 250 || (whole && largest > 100);
  const name = kind === 'current' ? (milli ? 'mA' : 'A') : milli ? 'mV' : 'V';
  columns.guesses.push(`The ${kind} column has no unit. From its values it was read as ${name}.`);
  return milli ? 1e-3 : 1;
}

/** Without a header: only where time, voltage and current leave no doubt. */
function byContent(layout: Layout, columns: Columns): ColumnDoubt | null {
  const width = layout.rows[0]?.length ?? 0;
  const indices = Array.from({ length: width }, (_, k) => k).filter((k) => hasValues(layout, k));
  const timeIndex = indices.find((k) => isTimeColumn(layout, k)) ?? null;
  if (timeIndex !== null) columns.time = timeColumn(layout, timeIndex, null, columns);
  const rest = indices.filter((k) => k !== timeIndex && numbersOf(layout, k).length > 0);
  const byCellUnit = (kind: Kind) =>
    rest.find((k) => layout.rows.some((r) => splitUnit(r[k] ?? '')?.kind === kind)) ?? null;
  const volts = byCellUnit('voltage');
  const amps = byCellUnit('current');
  if (volts !== null || amps !== null) {
    if (volts !== null) columns.voltage = { index: volts, factor: 1 };
    if (amps !== null) columns.current = { index: amps, factor: 1 };
    return null;
  }
  const pair = tellApart(layout, rest);
  if (!pair) return { doubt: 'there is no header, and the numbers do not show which is voltage and which is current' };
  columns.voltage = { index: pair.voltage, factor: factorOf(layout, pair.voltage, null, 'voltage', columns) };
  columns.current = { index: pair.current, factor: factorOf(layout, pair.current, null, 'current', columns) };
  columns.guesses.push(
    `There is no header: column ${pair.voltage + 1} was read as voltage, column ${pair.current + 1} as current.`,
  );
  return null;
}

/** Leads the wrong way round: what never flows forwards is read with its sign turned, and said. */
function turnReversed(layout: Layout, columns: Columns, kind: 'current' | 'voltage'): void {
  const column = columns[kind];
  if (!column || !isNegativeThroughout(layout, column, kind)) return;
  columns.warnings.push(`The ${kind} is negative throughout, so the leads are reversed. Its sign was changed.`);
  columns[kind] = { ...column, factor: -column.factor };
}

/** Amperes and volts that no offset of an instrument explains. */
const minReversed = { current: 0.03, voltage: 0.5 };

function isNegativeThroughout(
  layout: Layout,
  { index, factor }: { index: number; factor: number },
  kind: 'current' | 'voltage',
): boolean {
  const values = numbersOf(layout, index);
  return values.every((x) => x <= 0) && Math.min(0, ...values) * factor < -minReversed[kind];
}

function isTimeColumn(layout: Layout, index: number): boolean {
  const forms = layout.rows.map((r) => timeFormOf(r[index] ?? ''));
  if (forms.some((f) => f === 'clock' || f === 'date-time')) return true;
  const numbers = numbersOf(layout, index);
  if (numbers.length < 3) return false;
  const rising = numbers.slice(1).filter((t, k) => t > numbers[k]).length;
  return rising >= 0.95 * (numbers.length - 1) && rising >= 2;
}

/** A steady column at a feed's voltage beside one that is clearly smaller. A third may be their product. */
function tellApart(layout: Layout, rest: number[]): { voltage: number; current: number } | null {
  const values = rest.map((k) => ({ index: k, all: numbersOf(layout, k) }));
  const scored = values.map(({ index, all }) => ({ index, middle: median(all), largest: Math.max(...all) }));
  const products = rest.length === 3 ? productOf(layout, rest) : null;
  const candidates = products ?? (rest.length === 2 ? rest : null);
  if (!candidates) return null;
  const pair = scored.filter((c) => candidates.includes(c.index)).sort((a, b) => b.middle - a.middle);
  const [high, low] = pair;
  const isFeedIn = (factor: number): boolean =>
    high.middle * factor >= 2.8 && high.middle * factor <= 26 && low.largest * factor < 8;
  const areThousandths =
    isFeedIn(1e-3) && candidates.every((k) => layout.rows.every((r) => !/[.,]\d/.test(r[k] ?? '')));
  return (isFeedIn(1) || areThousandths) && low.largest < 0.8 * high.middle
    ? { voltage: high.index, current: low.index }
    : null;
}

/** Of three columns, the two whose product is the third. */
function productOf(layout: Layout, rest: number[]): number[] | null {
  for (const p of rest) {
    const [a, b] = rest.filter((k) => k !== p);
    const fits = layout.rows.filter((r) => {
      const x = readCell(r[a], layout.decimalComma, 1) * readCell(r[b], layout.decimalComma, 1);
      const y = readCell(r[p], layout.decimalComma, 1);
      return Math.abs(x - y) <= 0.03 * Math.abs(y) + 0.02;
    });
    if (fits.length > 0.9 * layout.rows.length) return [a, b];
  }
  return null;
}
