import { findUnit, type Kind } from '../../quantity/index.ts';
import { median } from '../../trace/index.ts';
import { isAbsent, readCell, splitUnit } from './cells.ts';
import type { Layout } from './sniff.ts';
import { timeFormOf, type TimeForm } from './time.ts';

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

type Role = 'time' | 'date' | 'counter' | 'current' | 'voltage' | 'other';

const roles: [Role, RegExp][] = [
  [
    'other',
    /^(power|watt|p|energy|charge|capacity|cap|mah|wh|mwh|temp|temperature|res|resistance|mode|status|state|cc|cv|set|limit|d\+|d-|dp|dm|cc1|cc2|data|v?_?d[+-]|group)\b|^(u|v)?_?(set|limit|dp|dm|cc1|cc2)\b|\b(set|setpoint|limit|target)\b/,
  ],
  ['date', /^(date|datum|day)$/],
  [
    'time',
    /^(time|t|elapsed|timestamp|zeit|uhrzeit|date\s*time|datetime|date.*time|seconds?|secs?|millis|clock|tempo|temps|hora|duration|rel.*time|abs.*time|epoch)\b/,
  ],
  ['counter', /^(sample|samples|index|idx|no|nr|n|count|row|record|seq|point)\b|^#$/],
  [
    'current',
    /^(current|i|amps?|amperes?|curr|cur|ibus|i bus|iout|i out|iin|i in|strom|stromst|courant|corriente|corrente|amperage|a|ma|ibat|i bat|isys|load current|bus current|output current|input current|meas.* current|measured current)\b/,
  ],
  [
    'voltage',
    /^(voltage|v|volts?|vbus|v bus|u|ubus|vout|v out|vin|v in|spannung|tension|voltaje|tensione|vbat|v bat|mv|bus voltage|output voltage|input voltage|meas.* voltage|measured voltage)\b/,
  ],
];

/** Splits a header such as `I [mA]`, `Current/mA`, `current_mA`, `U(V)` into name and unit. */
export function readHeaderCell(cell: string): { name: string; unit: string | null } {
  const bare = cell.trim().replace(/^["']|["']$/g, '');
  const bracket = /^(.*?)[\s_]*[[(]\s*([^\])]*?)\s*[\])]\s*\.?$/.exec(bare);
  if (bracket && findUnit(bracket[2])) return { name: bracket[1], unit: bracket[2] };
  const tail = /^(.+?)\s*(?:[/_,:]|\s|\sin\s)\s*([a-zA-Zµμ°Ω]+)$/.exec(bare);
  if (tail && findUnit(tail[2]) && tail[1].length > 0) return { name: tail[1].replace(/\s+in$/i, ''), unit: tail[2] };
  const unit = findUnit(bare);
  const named = /^(m|u|µ)?(a|v|s)$|^(milli|micro)?(amps?|amperes?|volts?|seconds?|sec)$/i.test(bare);
  if (unit && named) return { name: bare, unit: bare.length === 1 && !/[avs]/i.test(bare) ? null : bare };
  return { name: bracket ? bracket[1] || bare : bare, unit: null };
}

function roleOf(name: string): Role | null {
  const plain = name
    .toLowerCase()
    .replace(/[_.\-/]+/g, ' ')
    .replace(/[[(].*?[\])]/g, '')
    .replace(/\s+/g, ' ')
    .trim();
  const raw = name.toLowerCase().trim();
  if (/^(u|v)?[ _]?d[+-]/.test(raw)) return 'other';
  if (/^ms$|^millis(econds)?$|^s$|^us$/.test(plain)) return 'time';
  for (const [role, form] of roles) if (form.test(plain)) return role;
  return null;
}

const kindOf: Partial<Record<Role, Kind>> = { time: 'time', current: 'current', voltage: 'voltage' };

/**
 * Says which column holds time, voltage and current.
 *
 * @param stated units by column name from a table schema; they win over the file
 * @returns the columns, or what is in doubt, in words
 */
export function identifyColumns(
  layout: Layout,
  stated: Record<string, string>,
  fallbackRateHz: number | null,
): Columns | { doubt: string } {
  const columns: Columns = {
    time: null,
    date: null,
    voltage: null,
    current: null,
    rateHz: null,
    guesses: [],
    warnings: [],
  };
  const found = layout.header ? byHeader(layout, stated, columns) : byContent(layout, columns);
  if (found) return found;
  if (!columns.current && !columns.voltage) return { doubt: 'no column is named as a current or a voltage' };
  if (!columns.time) {
    columns.rateHz = statedRate(layout) ?? fallbackRateHz;
    if (columns.rateHz === null) return { doubt: 'there is no time column and no stated sampling rate' };
    columns.guesses.push(`The time was counted from rows at ${columns.rateHz} readings a second.`);
  }
  return columns;
}

function byHeader(layout: Layout, stated: Record<string, string>, columns: Columns): { doubt: string } | null {
  const header = layout.header ?? [];
  const shift = headerShift(layout);
  const taken = header.map((cell, k) => {
    const { name, unit } = readHeaderCell(cell);
    const unitLine = layout.units?.[k]?.replace(/[[\]()]/g, '').trim() || null;
    const schema = Object.hasOwn(stated, cell.trim()) ? stated[cell.trim()] : null;
    const fileUnit = unit ?? (unitLine && findUnit(unitLine) ? unitLine : null);
    if (schema && fileUnit && findUnit(schema)?.factor !== findUnit(fileUnit)?.factor) {
      columns.warnings.push(
        `Column "${cell.trim()}" says ${fileUnit}, the table schema says ${schema}; the schema was followed.`,
      );
    }
    let role = roleOf(name);
    if (role === null || role === 'other') role = role === null ? roleByUnit(schema ?? fileUnit) : role;
    return { index: k + shift, cell: cell.trim(), role, unit: schema ?? fileUnit };
  });
  const pick = (role: Role) => {
    const all = taken.filter((c) => c.role === role);
    return all.find((c) => hasValues(layout, c.index)) ?? all[0] ?? null;
  };
  const currents = taken.filter((c) => c.role === 'current' && hasValues(layout, c.index));
  if (currents.length > 1 && new Set(currents.map((c) => c.cell)).size === 1) {
    return { doubt: `${currents.length} columns are named "${currents[0].cell}"` };
  }
  const time = pick('time') ?? pick('date');
  const counter = pick('counter');
  if (time) columns.time = timeColumn(layout, time.index, time.unit, columns);
  const date = pick('date');
  if (date && time && date.index !== time.index && columns.time?.form === 'clock') columns.date = date.index;
  if (!columns.time && counter && !statedRate(layout)) columns.time = null;
  const current = pick('current');
  const voltage = pick('voltage');
  if (current)
    columns.current = {
      index: current.index,
      factor: factorOf(layout, current.index, current.unit, 'current', columns),
    };
  if (voltage)
    columns.voltage = {
      index: voltage.index,
      factor: factorOf(layout, voltage.index, voltage.unit, 'voltage', columns),
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

function hasValues(layout: Layout, index: number): boolean {
  return layout.rows.length === 0 || layout.rows.some((r) => r[index] !== undefined && !isAbsent(r[index]));
}

function numbersOf(layout: Layout, index: number): number[] {
  return layout.rows.map((r) => readCell(r[index], layout.decimalComma, 1)).filter((x) => Number.isFinite(x));
}

function timeColumn(layout: Layout, index: number, unit: string | null, columns: Columns): Columns['time'] {
  const forms = layout.rows.map((r) => timeFormOf(r[index] ?? '')).filter((f) => f !== null);
  if (forms.length === 0) {
    const withUnits = layout.rows.some((r) => splitUnit(r[index] ?? '')?.kind === 'time');
    return withUnits || layout.rows.length === 0 ? { index, form: 'number', factor: 1 } : null;
  }
  const form = forms[Math.floor(forms.length / 2)];
  if (form !== 'number') return { index, form, factor: 1 };
  const stated = unit ? findUnit(unit) : null;
  if (stated?.kind === 'time') return { index, form, factor: stated.factor };
  return { index, form, factor: guessTimeFactor(numbersOf(layout, index), columns) };
}

function guessTimeFactor(times: number[], columns: Columns): number {
  if (times.length === 0) return 1;
  const size = median(times.map(Math.abs));
  if (size > 1e17) return note(columns, 1e-9, 'nanoseconds since 1970');
  if (size > 1e14) return note(columns, 1e-6, 'microseconds since 1970');
  if (size > 1e11) return note(columns, 1e-3, 'milliseconds since 1970');
  if (size > 5e8) return note(columns, 1, 'seconds since 1970');
  const steps = times
    .slice(1)
    .map((t, k) => t - times[k])
    .filter((d) => d > 0);
  const step = steps.length === 0 ? 0 : median(steps);
  const whole = times.every((t) => Number.isInteger(t));
  return whole && step >= 8 ? note(columns, 1e-3, 'milliseconds') : note(columns, 1, 'seconds');
}

function note(columns: Columns, factor: number, words: string): number {
  columns.guesses.push(`The time column names no unit; it was read as ${words}.`);
  return factor;
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
    kind === 'current' ? largest > 25 || (whole && largest >= 5) : largest > 250 || (whole && largest > 100);
  const name = kind === 'current' ? (milli ? 'mA' : 'A') : milli ? 'mV' : 'V';
  columns.guesses.push(`The ${kind} column names no unit; from its size it was read as ${name}.`);
  return milli ? 1e-3 : 1;
}

/** Without a header: only where time, voltage and current leave no doubt. */
function byContent(layout: Layout, columns: Columns): { doubt: string } | null {
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
  if (!pair)
    return { doubt: 'there is no header and the columns do not tell which is the voltage and which the current' };
  columns.voltage = { index: pair.voltage, factor: factorOf(layout, pair.voltage, null, 'voltage', columns) };
  columns.current = { index: pair.current, factor: factorOf(layout, pair.current, null, 'current', columns) };
  columns.guesses.push(
    `There is no header: column ${pair.voltage + 1} was read as the voltage, column ${pair.current + 1} as the current.`,
  );
  return null;
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
  const isFeed = high.middle >= 2.8 && high.middle <= 26;
  return isFeed && low.largest < 0.8 * high.middle && low.largest < 8
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

/** `Sample rate: 10 Hz`, `interval = 100 ms` in the lines above the readings. */
function statedRate(layout: Layout): number | null {
  for (const line of layout.preamble) {
    const rate =
      /(?:rate|freq\w*|sampling)[^0-9]*([\d.,]+)\s*(k?hz|\/s|sps|per second|readings a second|samples\/s)/i.exec(line);
    if (rate) return Number(rate[1].replace(',', '.')) * (/^k/i.test(rate[2]) ? 1000 : 1) || null;
    const interval = /(?:interval|period|step|dt|resolution)[^0-9]*([\d.,]+)\s*(ms|us|µs|s|sec|seconds?)\b/i.exec(line);
    if (interval) {
      const seconds = Number(interval[1].replace(',', '.')) * (findUnit(interval[2])?.factor ?? 1);
      if (seconds > 0) return 1 / seconds;
    }
    const inverse = /(?:rate|interval|period)[^0-9]*\((ms|s|hz)\)[^0-9]*([\d.,]+)/i.exec(line);
    if (inverse) {
      const value = Number(inverse[2].replace(',', '.'));
      if (value > 0) return /hz/i.test(inverse[1]) ? value : 1 / (value * (/ms/i.test(inverse[1]) ? 1e-3 : 1));
    }
  }
  return null;
}
