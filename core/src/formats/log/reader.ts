import Papa from 'papaparse';
import { FormatError } from '../error.ts';
import { isAbsent, isWord, readCell } from './cells.ts';
import type { Columns } from './column-roles.ts';
import { identifyColumns } from './columns.ts';
import { archiveKind, concatBytes, detectEncoding } from './decode.ts';
import { RowSorter, type RowSink } from './order.ts';
import { UnsureColumnsError, type LogOptions, type LogResult } from './options.ts';
import { noRows, sayRepairs, type RowCounts } from './repairs.ts';
import { scanRows, type ScanColumns } from './scan.ts';
import { mappedColumns } from './mapping.ts';
import { joinCutTime, sniffLayout, splitLine, type Layout } from './sniff.ts';
import { MidnightCounter, parseClock, parseDateTime } from './time.ts';

const headBytes = 262_144;
/** The year 2200: a start after it is a slip of the clock. */
const latestStart = 7.26e9;
/** Seconds of a clock that counts from 1970, rather than from the start of the log. */
const datedFrom = 5e8;
const absurd = { amps: 1000, volts: 1000, seconds: 31 * 86_400 };

/**
 * Reads a log as meters and supplies export it, from a stream of bytes in bounded memory. Feed it with `push`, end with
 * `finish`; rows arrive at the sink in order of time, in seconds from the first row, volts and amperes.
 *
 * @throws FormatError (from `push` or `finish`) where the bytes are no log, UnsureColumnsError where a person must say
 *   which column is which
 */
export class LogReader {
  private readonly options: LogOptions;
  private readonly sink: RowSink;
  private head: Uint8Array[] = [];
  private headSize = 0;
  private decoder: TextDecoder | null = null;
  private carry = '';
  private layout: Layout | null = null;
  private columns: Columns | null = null;
  /** Cells in a row. */
  private width = 0;
  private skipLines = 0;
  private line = 0;
  private sorter: RowSorter | null = null;
  private readonly counts: RowCounts = { ...noRows };
  /** Rows handed on, from which the time is counted where the file has none. */
  private counted = 0;
  private readonly midnight = new MidnightCounter();
  private anchor = NaN;
  private firstT = NaN;

  constructor(sink: RowSink, options: LogOptions = {}) {
    this.sink = sink;
    this.options = options;
  }

  private get file(): string {
    return this.options.file ?? '';
  }

  /** Takes the next bytes of the file. */
  push(bytes: Uint8Array): void {
    if (this.layout) {
      this.take(this.decoder!.decode(bytes, { stream: true }), false);
      return;
    }
    this.head.push(bytes);
    this.headSize += bytes.length;
    if (this.headSize >= headBytes) this.begin(false);
  }

  /** Ends the file. */
  finish(): LogResult {
    if (!this.layout) this.begin(true);
    else this.take(this.decoder!.decode(), true);
    this.sorter!.finish();
    const blank = this.noReading();
    if (blank && this.options.blank !== 'warn') throw new FormatError(this.file, '', blank);
    const result = this.result();
    return blank
      ? { ...result, warnings: [...result.warnings, `${blank[0].toUpperCase()}${blank.slice(1)}.`] }
      : result;
  }

  private begin(whole: boolean): void {
    const head = concatBytes(this.head, this.headSize);
    this.head = [];
    if (this.headSize === 0)
      throw new FormatError(this.file, '', 'the file is empty; expected a log with rows of readings');
    const archive = archiveKind(head);
    if (archive) throw this.noLog(`it is ${archive}; unpack it first`);
    const encoding = detectEncoding(head);
    if (!encoding) throw this.noLog('it contains binary data');
    this.decoder = new TextDecoder(encoding);
    const text = this.decoder.decode(head, { stream: !whole }) + (whole ? this.decoder.decode() : '');
    const layout = sniffLayout(whole ? text : text.slice(0, text.lastIndexOf('\n') + 1) || text);
    if (!layout) throw this.noLog('it has no rows of numbers');
    this.layout = layout;
    this.columns = this.options.mapping ? mappedColumns(layout, this.options.mapping) : this.identify(layout);
    this.width = layout.rows[0]?.length ?? 0;
    this.skipLines = layout.firstRow;
    this.anchor = this.findAnchor(layout);
    this.sorter = new RowSorter((t, v, i) => {
      if (this.counts.rows === 0) this.firstT = t;
      this.counts.rows++;
      if (i !== i) this.counts.absentA++;
      if (i === i || v === v) this.counts.usable++;
      this.sink(t - this.firstT, v, i);
    });
    this.take(text, whole);
  }

  private noLog(why: string): FormatError {
    return new FormatError(this.file, '', `this is not a log: ${why}; expected columns of time, voltage and current`);
  }

  /** Why what is a log in form tells nothing; null where it tells something. */
  private noReading(): string | null {
    const { rows, usable, absentA } = this.counts;
    if (usable > 1 && this.columns?.current && rows === absentA)
      return `the log has no usable current: none of its ${rows} rows says one; expected numbers in the column of the current`;
    if (usable > 1) return null;
    if (usable === 1) return 'it has only one reading; expected at least two, with the time between them';
    const why = rows === 0 ? 'it has a header but no readable rows' : `its ${rows} rows contain no values`;
    return `the log has no usable reading: ${why}; expected numbers for voltage or current`;
  }

  private identify(layout: Layout): Columns {
    const found = identifyColumns(layout, {
      units: this.options.units ?? {},
      rateHz: this.options.rateHz ?? null,
      turns: { current: (this.options.instrument?.gainA ?? 1) > 0, voltage: (this.options.instrument?.gainV ?? 1) > 0 },
    });
    if ('refusal' in found) throw new FormatError(this.file, '', found.refusal);
    if ('doubt' in found) {
      const numeric = layout.rows.length >= 3 || layout.header !== null;
      if (!numeric) throw this.noLog('it has no rows of numbers');
      throw new UnsureColumnsError(this.file, found.doubt, layout);
    }
    return found;
  }

  /** Middle time of the first rows: a clock that was not set yet must not carry the rest away. */
  private findAnchor(layout: Layout): number {
    const times = layout.rows
      .map((r) => this.timeOf(r, 0))
      .filter((t) => Number.isFinite(t))
      .sort((a, b) => a - b);
    return times.length === 0 ? NaN : times[times.length >> 1];
  }

  private take(text: string, last: boolean): void {
    let block = this.carry + text;
    const newline = this.layout!.newline;
    if (!last) {
      const cut = block.lastIndexOf(newline);
      if (cut < 0) {
        if (block.length > 1_000_000) throw this.noLog('it has a line of more than a million characters');
        this.carry = block;
        return;
      }
      this.carry = block.slice(cut + 1);
      block = block.slice(0, cut + 1);
    } else this.carry = '';
    while (this.skipLines > 0 && block.length > 0) {
      const end = block.indexOf(newline);
      this.skipLines--;
      this.line++;
      block = end < 0 ? '' : block.slice(end + 1);
    }
    if (block.length > 0) this.takeBlock(block);
  }

  /** Plain numbers are read in place; lines that hold anything else are cut into cells. */
  private takeBlock(block: string): void {
    const { delimiter, decimalComma, newline } = this.layout!;
    const { voltage, current, time, rateHz } = this.columns!;
    const numericTime = rateHz !== null || time?.form === 'number';
    const scannable = numericTime && newline === '\n' && delimiter !== ' ' && !(decimalComma && delimiter === ',');
    if (!scannable) {
      this.takeCells(this.splitRows(block));
      return;
    }
    const columns: ScanColumns = {
      delimiter: delimiter.charCodeAt(0),
      decimalComma,
      time: rateHz === null && time ? time.index : -1,
      voltage: voltage?.index ?? -1,
      current: current?.index ?? -1,
    };
    const [perSecond, perVolt, perAmp] = [time?.factor ?? 1, voltage?.factor ?? 1, current?.factor ?? 1];
    scanRows(
      block,
      columns,
      (t, v, i) => {
        this.line++;
        const at = rateHz === null ? t * perSecond : this.counted / rateHz;
        if (at === at) this.takeRow(at, v * perVolt, i * perAmp);
        else this.leaveOut();
      },
      (line) => this.takeCells(this.splitRows(line)),
    );
  }

  private splitRows(block: string): string[][] {
    const { delimiter, newline, cutTimeAt } = this.layout!;
    if (delimiter === ' ') return block.split(newline).map((line) => splitLine(line, ' '));
    const { data } = Papa.parse<string[]>(block, { delimiter, newline, skipEmptyLines: false });
    return cutTimeAt === null ? data : data.map((cells) => joinCutTime(cells, cutTimeAt));
  }

  private takeCells(rows: string[][]): void {
    const { voltage, current } = this.columns!;
    const comma = this.layout!.decimalComma;
    for (const row of rows) {
      this.line++;
      if (row.length <= 1 && (row[0] ?? '').trim() === '') continue;
      const v = voltage === null ? NaN : readCell(row[voltage.index], comma, voltage.factor);
      const i = current === null ? NaN : readCell(row[current.index], comma, current.factor);
      const t = this.timeOf(row, this.counted);
      const isRemark = [voltage, current].some((c) => c && isWord(row[c.index])) && this.isRemark(row);
      if (t !== t || isRemark || (v !== v && i !== i && !this.isBlankRow(row))) this.leaveOut();
      else this.takeRow(t, v, i);
    }
  }

  /** One row: seconds as the file counts them, volts, amperes. */
  private takeRow(t: number, v: number, i: number): void {
    if (v > absurd.volts || v < -absurd.volts) v = this.absurdValue();
    if (i > absurd.amps || i < -absurd.amps) i = this.absurdValue();
    const dead = v === 0 && i === 0;
    const { rateHz, time } = this.columns!;
    if (t - this.anchor > absurd.seconds || this.anchor - t > absurd.seconds) {
      if (dead) this.counts.powerLost++;
      else this.counts.farOff++;
    } else if (dead && t === 0 && this.anchor > 10 && rateHz === null && time?.form === 'number' && this.counted > 1) {
      this.counts.powerLost++;
    } else {
      this.counted++;
      this.sorter!.add(t, v, i);
    }
  }

  private absurdValue(): number {
    this.counts.absurd++;
    return NaN;
  }

  private leaveOut(): void {
    if (this.counts.foreign === 0) this.counts.firstForeign = this.line;
    this.counts.foreign++;
  }

  /** A line of words, such as a sum at the end, rather than a row of which one cell holds a word. */
  private isRemark(row: string[]): boolean {
    return row.length !== this.width || row.filter((cell) => isWord(cell)).length > row.length / 2;
  }

  /** A row whose readings are marked as absent, rather than words. */
  private isBlankRow(row: string[]): boolean {
    const { voltage, current } = this.columns!;
    const cells = [voltage, current].filter((c) => c !== null).map((c) => row[c.index]);
    return cells.every((cell) => cell !== undefined && isAbsent(cell));
  }

  private timeOf(row: string[], counted: number): number {
    const { time, date, rateHz } = this.columns!;
    if (rateHz !== null) return counted / rateHz;
    if (!time) return NaN;
    const cell = row[time.index] ?? '';
    if (time.form === 'number') return readCell(cell, this.layout!.decimalComma, time.factor);
    if (time.form === 'date-time') {
      const joined =
        this.layout!.delimiter === ' ' && !/[T:]/.test(cell) ? `${cell} ${row[time.index + 1] ?? ''}` : cell;
      return parseDateTime(joined);
    }
    if (date !== null) return parseDateTime(row[date] ?? '') + parseClock(cell);
    return this.midnight.next(parseClock(cell));
  }

  private result(): LogResult {
    const { counts, layout } = this;
    const columns = this.columns!;
    const dated = columns.time?.form === 'date-time' || columns.date !== null || this.anchor > datedFrom;
    const isOurTime = this.firstT > 0 && this.firstT < latestStart;
    return {
      rows: counts.rows,
      repairs: [...columns.guesses, ...sayRepairs(counts, this.sorter!.repairs, columns.current !== null)],
      warnings: [...columns.warnings],
      startedAt: dated && isOurTime ? new Date(this.firstT * 1000).toISOString() : null,
      hasCurrent: columns.current !== null && counts.absentA < counts.rows,
      hasVoltage: columns.voltage !== null && layout !== null,
    };
  }
}

/** Reads a whole log held in memory. */
export function readLog(bytes: Uint8Array, sink: RowSink, options: LogOptions = {}): LogResult {
  const reader = new LogReader(sink, options);
  for (let at = 0; at < bytes.length; at += headBytes) reader.push(bytes.subarray(at, at + headBytes));
  return reader.finish();
}
