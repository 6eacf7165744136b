import fc from 'fast-check';

/** How an invented meter writes its logs. */
export interface Dialect {
  delimiter: ',' | ';' | '\t' | ' ' | '|';
  decimalComma: boolean;
  quoted: boolean;
  ending: '\n' | '\r\n';
  encoding: 'utf8' | 'utf8-bom' | 'utf16le' | 'utf16be' | 'latin1';
  time: 'seconds' | 'milliseconds' | 'clock' | 'iso' | 'iso-offset' | 'epoch' | 'epoch-ms' | 'counter' | 'scientific';
  /** Columns in the order of the file: t, v, i, and p for a power that nobody asked for. */
  order: string;
  unitsIn: 'header' | 'line' | 'cells' | 'nowhere';
  current: 'A' | 'mA';
  voltage: 'V' | 'mV';
  words: number;
  preamble: string[];
  summary: boolean;
  brokenHeader: boolean;
  scientific: boolean;
  /** A comma before the fraction of a second, as ISO 8601 has it, whatever the decimal sign and the delimiter. */
  fractionComma: boolean;
}

/** A reading every `stepS` seconds, in volts and amperes. */
export interface Readings {
  stepS: number;
  rows: { v: number; i: number }[];
}

const names = {
  t: ['Time', 'Elapsed', 'Zeit', 'Temps', 'Tiempo', 'time stamp'],
  v: ['Voltage', 'Vbus', 'Spannung', 'Tension', 'Tensión', 'U'],
  i: ['Current', 'Ibus', 'Strom', 'Intensité', 'Corriente', 'I'],
  p: ['Power', 'Power', 'Power', 'Power', 'Power', 'P'],
} as const;

/** Dialects that leave no doubt: what cannot be told (a decimal comma between unquoted commas, say) is not made. */
export const anyDialect: fc.Arbitrary<Dialect> = fc
  .record({
    delimiter: fc.constantFrom<Dialect['delimiter']>(',', ';', '\t', ' ', '|'),
    decimalComma: fc.boolean(),
    quoted: fc.boolean(),
    ending: fc.constantFrom<Dialect['ending']>('\n', '\r\n'),
    encoding: fc.constantFrom<Dialect['encoding']>('utf8', 'utf8-bom', 'utf16le', 'utf16be', 'latin1'),
    time: fc.constantFrom<Dialect['time']>(
      'seconds',
      'milliseconds',
      'clock',
      'iso',
      'iso-offset',
      'epoch',
      'epoch-ms',
      'counter',
      'scientific',
    ),
    order: fc.constantFrom('tvi', 'tiv', 'ivt', 'vit', 'tvip', 'tpvi', 'pivt'),
    unitsIn: fc.constantFrom<Dialect['unitsIn']>('header', 'line', 'cells', 'nowhere'),
    current: fc.constantFrom<Dialect['current']>('A', 'mA'),
    voltage: fc.constantFrom<Dialect['voltage']>('V', 'mV'),
    words: fc.nat(5),
    preamble: fc.constantFrom<string[][]>([], ['# exported'], ['Bench log', 'Operator: bench', ''], ['sep']),
    summary: fc.boolean(),
    brokenHeader: fc.boolean(),
    scientific: fc.boolean(),
    fractionComma: fc.boolean(),
  })
  .map((d) => ({
    ...d,
    quoted: d.delimiter === ' ' ? false : d.quoted || (d.delimiter === ',' && d.decimalComma),
    // Blanks cut `Time (s)` and `12 mA` apart.
    unitsIn: d.delimiter === ' ' && (d.unitsIn === 'header' || d.unitsIn === 'cells') ? ('line' as const) : d.unitsIn,
    words: d.delimiter === ' ' ? Math.min(d.words, 4) : d.words,
    brokenHeader: d.brokenHeader && d.delimiter !== ' ' && d.unitsIn === 'header',
    preamble: d.preamble[0] === 'sep' ? [`sep=${d.delimiter}`] : d.preamble,
  }));

/** Readings that a display could show: steps of a tenth of a milliampere, ten millivolts. */
export const anyReadings: fc.Arbitrary<Readings> = fc.record({
  stepS: fc.constantFrom(0.05, 0.25, 0.5, 1),
  rows: fc.array(
    fc.record({
      v: fc.integer({ min: 350, max: 2000 }).map((x) => x / 100),
      i: fc.integer({ min: 0, max: 30_000 }).map((x) => x / 10_000),
    }),
    { minLength: 6, maxLength: 40 },
  ),
});

const startMs = Date.UTC(2026, 2, 2, 23, 59, 58);

function timeCell(dialect: Dialect, k: number, stepS: number, number: (x: number, places: number) => string): string {
  const t = k * stepS;
  const at = new Date(startMs + Math.round(t * 1000));
  const iso = at.toISOString();
  const comma = (text: string): string => (dialect.decimalComma ? text.replace('.', ',') : text);
  const clock = (text: string): string => (dialect.fractionComma ? text.replace('.', ',') : text);
  switch (dialect.time) {
    case 'seconds':
      return number(t, 2);
    case 'milliseconds':
      return String(Math.round(t * 1000));
    case 'clock':
      return clock(iso.slice(11, 23));
    case 'iso':
      return clock(iso);
    case 'iso-offset':
      return clock(`${new Date(at.getTime() + 3_600_000).toISOString().slice(0, -1)}+01:00`);
    case 'epoch':
      return comma((at.getTime() / 1000).toFixed(3));
    case 'epoch-ms':
      return String(at.getTime());
    case 'counter':
      return String(k + 1);
    case 'scientific':
      return comma(`${t < 0 ? '-' : '+'}${t.toExponential(6).toUpperCase()}`);
  }
}

function headerCells(dialect: Dialect): { header: string[]; units: string[] } {
  const unitOf = { t: dialect.time === 'milliseconds' ? 'ms' : 's', v: dialect.voltage, i: dialect.current, p: 'W' };
  const isPlainTime = ['seconds', 'milliseconds', 'scientific'].includes(dialect.time);
  const cells = [...dialect.order].map((c) => {
    const column = c as keyof typeof names;
    const name = column === 't' && dialect.time === 'counter' ? 'Sample' : names[column][dialect.words];
    const unit = column === 't' && !isPlainTime ? '' : unitOf[column];
    return { name, unit };
  });
  const inHeader = (name: string, unit: string): string =>
    unit === '' ? name : dialect.brokenHeader ? `${name}\n(${unit})` : `${name} (${unit})`;
  // A millisecond column without a unit is told from its size; nothing else of the time needs one.
  const header = cells.map(({ name, unit }) => (dialect.unitsIn === 'header' ? inHeader(name, unit) : name));
  return { header, units: cells.map(({ unit }) => unit || '-') };
}

/** Writes readings as the dialect does. */
export function writeDialect(dialect: Dialect, { stepS, rows }: Readings): Uint8Array {
  const number = (x: number, places: number): string => {
    const text = dialect.scientific ? x.toExponential(6) : x.toFixed(places);
    return dialect.decimalComma ? text.replace('.', ',') : text;
  };
  const inCells = (text: string, unit: string): string => (dialect.unitsIn === 'cells' ? `${text} ${unit}` : text);
  const quote = (cell: string): string => (dialect.quoted ? `"${cell}"` : cell);
  const join = (cells: string[]): string => cells.map(quote).join(dialect.delimiter);
  const { header, units } = headerCells(dialect);
  const lines = [...dialect.preamble];
  if (dialect.time === 'counter') lines.push(`Sampling rate: ${1 / stepS} Hz`);
  lines.push(header.map((c) => (dialect.quoted || c.includes('\n') ? `"${c}"` : c)).join(dialect.delimiter));
  if (dialect.unitsIn === 'line') lines.push(units.join(dialect.delimiter));
  rows.forEach(({ v, i }, k) => {
    const cell = {
      t: timeCell(dialect, k, stepS, number),
      v: inCells(dialect.voltage === 'mV' ? number(v * 1000, 0) : number(v, 2), dialect.voltage),
      i: inCells(dialect.current === 'mA' ? number(i * 1000, 1) : number(i, 4), dialect.current),
      p: inCells(number(v * i, 3), 'W'),
    };
    lines.push(join([...dialect.order].map((c) => cell[c as keyof typeof cell])));
  });
  if (dialect.summary) lines.push('', `Rows in all: ${rows.length}`);
  const text = lines.join(dialect.ending) + dialect.ending;
  if (dialect.encoding === 'utf16le') return Buffer.from(`\ufeff${text}`, 'utf16le');
  if (dialect.encoding === 'utf16be') return Buffer.from(`\ufeff${text}`, 'utf16le').swap16();
  if (dialect.encoding === 'latin1') return Buffer.from(text, 'latin1');
  return Buffer.from((dialect.encoding === 'utf8-bom' ? '\ufeff' : '') + text, 'utf8');
}
