import { guardedScpi, plainAscii, readScpiDialect, usualScpi, type ScpiDialect } from './scpi.ts';
import { readLineDialect, usualLines, type LineDialect } from './line-stream.ts';
import { isRegisterSupply, readRegisterDialect, usualRegisters, type RegisterDialect } from './registers.ts';
import { framedReadings, readReadingDialect, usualReadings, type ReadingDialect } from './readings.ts';
import { readFrameDialect, usualFrames, type FrameDialect } from './frames.ts';

/** What an instrument speaks. */
export type Dialect = ScpiDialect | RegisterDialect | LineDialect | FrameDialect | ReadingDialect;

/** What an instrument sends. */
export type SentDialect = LineDialect | FrameDialect | ReadingDialect;

/** What an instrument speaks whose output can be switched, or that is asked for every value. */
export type AskedDialect = ScpiDialect | RegisterDialect;

/** Whether an instrument is asked for every value, or sends what it has. */
export function isAsked(dialect: Dialect): dialect is AskedDialect {
  return dialect.format === 'umbral-scpi/1' || dialect.format === 'umbral-registers/1';
}

/** What can be said of every format: how its files are read, and which kind of instrument speaks it. */
interface DialectFormat<D extends Dialect> {
  /** As people call it. */
  name: string;
  read: (value: unknown) => D;
  kindOf: (dialect: D) => InstrumentKind;
}

export const instrumentKinds = ['supply', 'meter', 'multimeter'] as const;
export type InstrumentKind = (typeof instrumentKinds)[number];

/** Every format of a dialect. Another one is one entry here, and a source in `instrument`. */
export const dialectFormats: { readonly [F in Dialect['format']]: DialectFormat<Extract<Dialect, { format: F }>> } = {
  'umbral-scpi/1': { name: 'text commands', read: readScpiDialect, kindOf: () => 'supply' },
  'umbral-registers/1': {
    name: 'registers',
    read: readRegisterDialect,
    kindOf: (d) => (isRegisterSupply(d) ? 'supply' : 'meter'),
  },
  'umbral-lines/1': { name: 'text lines', read: readLineDialect, kindOf: () => 'meter' },
  'umbral-frames/1': { name: 'binary frames', read: readFrameDialect, kindOf: () => 'meter' },
  'umbral-readings/1': { name: 'readings of a multimeter', read: readReadingDialect, kindOf: () => 'multimeter' },
};

/** The kind of instrument that speaks a dialect. */
export function kindOf(dialect: Dialect): InstrumentKind {
  const { kindOf: of } = dialectFormats[dialect.format] as DialectFormat<Dialect>;
  return of(dialect);
}

/**
 * Reads a dialect of any format.
 *
 * @param value of a JSON file
 * @throws {RangeError} for a format that there is not, or with every key that is wrong and what was expected
 */
export function readDialect(value: unknown): Dialect {
  const format = (value as { format?: unknown } | null)?.format;
  if (typeof format !== 'string' || !Object.hasOwn(dialectFormats, format))
    throw new RangeError(`format: expected one of ${Object.keys(dialectFormats).join(', ')}`);
  return dialectFormats[format as Dialect['format']].read(value);
}

/**
 * Reads a dialect from the text of a file.
 *
 * @throws {RangeError} with the line and the key of what is wrong
 */
export function parseDialect(text: string): Dialect {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    const position = /position (\d+)/.exec(message);
    const line = position ? text.slice(0, Number(position[1])).split('\n').length : null;
    throw new RangeError(`${line === null ? '' : `line ${line}: `}not JSON: ${message.replace(/ in JSON at.*/, '')}`);
  }
  try {
    return readDialect(value);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new RangeError(withLine(error.message, text));
  }
}

/** A message with the line of the first key that it names. */
function withLine(message: string, text: string): string {
  const lines = text.split('\n');
  for (const key of message.match(/[A-Za-z]\w*/g) ?? []) {
    const at = lines.findIndex((line) => line.includes(`"${key}"`));
    if (at >= 0) return `line ${at + 1}: ${message}`;
  }
  return message;
}

/** Every dialect that ships: a file of `data`, read. */
export const shippedDialects: readonly Dialect[] = [
  usualScpi,
  guardedScpi,
  plainAscii,
  usualRegisters,
  usualLines,
  usualFrames,
  usualReadings,
  framedReadings,
];
