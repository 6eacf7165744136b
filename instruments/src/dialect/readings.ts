import * as yup from 'yup';
import framed from './data/readings-framed.json';
import usual from './data/readings-usual.json';
import {
  byteRequest,
  frameField,
  fieldOf,
  framingProblems,
  framingShape,
  framePlace,
  type FrameField,
  type Framing,
} from './frames.ts';
import { numberTypes } from './numbers.ts';
import { patternOf, patternProblem } from './pattern.ts';
import { dialectId, factor, optional, readWith, whole, words } from './schema.ts';

export const readingModes = ['voltage', 'resistance', 'diode', 'continuity'] as const;
type ReadingMode = (typeof readingModes)[number];

/** What a handheld multimeter shows. Volts or ohm. */
export interface MeterReading {
  mode: ReadingMode;
  /** Null for an open line. */
  value: number | null;
  ol: boolean;
  /** It beeps: continuity below what the meter beeps at. */
  beeps: boolean;
  /** The last digit of its display in the range that it is in; null for an open line. */
  step: number | null;
}

interface OfEveryMeter {
  format: 'umbral-readings/1';
  id: string;
  name: string;
  bauds: number[];
  /** Below so many ohm it beeps. */
  beepsBelowOhm: number;
}

/** Lines of text, read by a pattern with the groups `value` and `unit`, and `mode` where the meter says one. */
interface TextReadings extends OfEveryMeter {
  pattern: string;
  /** What it measures, by its own word for the mode, or by the unit where it says none. */
  modes: Record<string, ReadingMode>;
  /** Factors to volts and ohm, by its own word for the unit. */
  units: Record<string, number>;
  /** Words for an open line. */
  overload: string[];
  /** What it is asked with, and how often; null where it sends by itself. */
  request: { text: string; everyMs: number } | null;
}

/** Bits of one byte of a frame. */
interface Bits {
  at: number;
  mask: number;
}

/** Binary frames with the digits of the display, and bytes that say what they mean. */
interface FramedReadings extends OfEveryMeter {
  frame: Framing;
  /** The number without its point: as a number, or a digit in the low half of each byte. */
  value: FrameField | { at: number; digits: number };
  /** Where the mode stands, and the range; null for a meter with one range for each mode. */
  mode: Bits;
  range: Bits | null;
  /** By the bits of the mode in hexadecimal, "3B": what it is, and what a last digit is worth, by the bits of the range. */
  modes: Record<string, { is: ReadingMode; steps: Record<string, number> | number }>;
  negative: Bits | null;
  overload: Bits | null;
  request: { bytes: string; everyMs: number } | null;
}

/** How a handheld multimeter writes what it shows, `umbral-readings/1`: as lines of text, or as binary frames. */
export type ReadingDialect = TextReadings | FramedReadings;

const usualBeepOhm = 30;

const mapOf = <T>(of: yup.Schema<T>) =>
  yup.lazy((given: unknown) =>
    yup
      .object(Object.fromEntries(Object.keys((given ?? {}) as object).map((key) => [key, of])) as yup.ObjectShape)
      .required()
      .strict(),
  );

const ofEvery = {
  format: yup.string().oneOf(['umbral-readings/1']).required(),
  id: dialectId(),
  name: words(),
  bauds: yup.array(whole(300, 4_000_000).required()).max(10).default([9600, 2400]),
  beepsBelowOhm: yup.number().strict().positive().max(1000).default(usualBeepOhm),
};

const modeName = () => yup.string().oneOf(readingModes).required();

const textSchema = yup
  .object({
    ...ofEvery,
    pattern: words(300),
    modes: mapOf(modeName()),
    units: mapOf(factor().required()),
    overload: yup.array(words(20)).min(1).max(10).default(['OL']),
    request: optional(
      yup
        .object({ text: words(50), everyMs: whole(20, 60_000).required() })
        .noUnknown()
        .strict(),
    ),
  })
  .noUnknown()
  .strict();

const bits = () =>
  yup
    .object({ at: framePlace().required(), mask: whole(1, 0xff).default(0xff) })
    .noUnknown()
    .strict();

const mostDigits = 8;

const digitsOrNumber = yup.lazy((given: { digits?: unknown } | undefined) =>
  given && 'digits' in given
    ? yup
        .object({ at: framePlace().required(), digits: whole(1, mostDigits).required() })
        .noUnknown()
        .strict()
    : frameField().required(),
);

const framedSchema = yup
  .object({
    ...ofEvery,
    frame: yup.object(framingShape).noUnknown().strict().required(),
    value: digitsOrNumber,
    mode: bits().required(),
    range: optional(bits()),
    modes: mapOf(
      yup
        .object({
          is: modeName(),
          steps: yup.lazy((x: unknown) => (typeof x === 'number' ? factor() : mapOf(factor().required()))),
        })
        .noUnknown()
        .strict()
        .required(),
    ),
    negative: optional(bits()),
    overload: optional(bits()),
    request: byteRequest(),
  })
  .noUnknown()
  .strict();

/**
 * Reads how a multimeter writes.
 *
 * @param value of a JSON file
 * @throws {RangeError} with every key that is wrong and what was expected
 */
export function readReadingDialect(value: unknown): ReadingDialect {
  const isFramed = typeof value === 'object' && value !== null && 'frame' in value;
  const read = readWith<ReadingDialect>(isFramed ? framedSchema : textSchema, value, 'readings');
  const wrong = 'frame' in read ? framedProblems(read) : patternProblems(read);
  if (wrong.length > 0) throw new RangeError(`readings: ${wrong.join('; ')}`);
  return read;
}

function patternProblems({ pattern }: TextReadings): string[] {
  const problem = patternProblem(pattern, ['value', 'unit']);
  return problem === null ? [] : [`pattern ${problem}`];
}

function framedProblems({ frame, value, mode, range, modes, negative, overload }: FramedReadings): string[] {
  const width = 'digits' in value ? value.digits : numberTypes[value.type].bytes;
  const single = Object.entries({ mode, range, negative, overload }).flatMap(([name, at]) =>
    at ? [[name, { at: at.at, bytes: 1 }] as const] : [],
  );
  const places = { value: { at: value.at, bytes: width }, ...Object.fromEntries(single) };
  const wrong = framingProblems(frame, places);
  const keys = Object.entries(modes).flatMap(([key, { steps }]) => [
    [`modes.${key}`, key] as const,
    ...(typeof steps === 'number' ? [] : Object.keys(steps).map((k) => [`modes.${key}.steps.${k}`, k] as const)),
  ]);
  for (const [where, key] of keys)
    if (!/^[0-9A-F]{2}$/.test(key)) wrong.push(`${where}: expected the bits as two hexadecimal digits, such as "3B"`);
  for (const [key, { steps }] of Object.entries(modes))
    if (typeof steps !== 'number' && range === null)
      wrong.push(`modes.${key}.steps are by range, and range is not given`);
  return wrong;
}

/**
 * Makes a reader for the lines of one multimeter.
 *
 * @returns null for a line that is no reading, or of something else than volts and ohm
 */
export function readingReader(dialect: TextReadings): (line: string) => MeterReading | null {
  const pattern = patternOf(dialect.pattern);
  return (line) => {
    const groups = pattern.exec(line);
    if (!groups) return null;
    const { value = '', unit = '', mode: word = unit } = groups;
    const mode = ownOf(dialect.modes, word);
    if (mode === null) return null;
    if (dialect.overload.includes(value.trim())) return openLine(mode);
    const factorOf = ownOf(dialect.units, unit);
    const digits = /^[+-]?\d+(?:\.(\d*))?$/.exec(value.trim());
    if (factorOf === null || digits === null) return null;
    return shown(dialect, mode, Number(value) * factorOf, factorOf * 10 ** -(digits[1]?.length ?? 0));
  };
}

/**
 * Makes a reader for the frames of one multimeter.
 *
 * @returns null for a frame whose mode or range is not described, or whose digits are none
 */
export function framedReader(dialect: FramedReadings): (frame: Uint8Array) => MeterReading | null {
  const { value, negative, overload } = dialect;
  return (frame) => {
    const of = ownOf(dialect.modes, bitsOf(frame, dialect.mode));
    if (of === null) return null;
    if (overload && isSet(frame, overload)) return openLine(of.is);
    const step =
      typeof of.steps === 'number' ? of.steps : dialect.range && ownOf(of.steps, bitsOf(frame, dialect.range));
    const count =
      'digits' in value ? digitsIn(frame.subarray(value.at, value.at + value.digits)) : fieldOf(frame, value);
    if (step === null || !Number.isFinite(count)) return null;
    return shown(dialect, of.is, count * step * (negative && isSet(frame, negative) ? -1 : 1), step);
  };
}

const ownOf = <T>(map: Record<string, T>, key: string): T | null => (Object.hasOwn(map, key) ? map[key] : null);

const bitsOf = (frame: Uint8Array, { at, mask }: Bits): string =>
  (frame[at] & mask).toString(16).toUpperCase().padStart(2, '0');

const isSet = (frame: Uint8Array, { at, mask }: Bits): boolean => (frame[at] & mask) === mask;

const lowHalf = 0x0f;

function digitsIn(bytes: Uint8Array): number {
  return bytes.reduce((sum, b) => ((b & lowHalf) > 9 ? NaN : 10 * sum + (b & lowHalf)), 0);
}

const openLine = (mode: ReadingMode): MeterReading => ({ mode, value: null, ol: true, beeps: false, step: null });

const shownDigits = 9;

function shown({ beepsBelowOhm }: OfEveryMeter, mode: ReadingMode, si: number, step: number): MeterReading {
  const value = Number(si.toPrecision(shownDigits));
  const beeps = mode === 'continuity' && value < beepsBelowOhm;
  return { mode, value, ol: false, beeps, step: Number(step.toPrecision(shownDigits)) };
}

/** Whether a dialect writes binary frames. */
export const isFramed = (dialect: ReadingDialect): dialect is FramedReadings => 'frame' in dialect;

/** How the multimeters that ship write: mode, value, unit in a line; digits, range, mode in a frame. */
export const usualReadings = readReadingDialect(usual) as TextReadings;
export const framedReadings = readReadingDialect(framed) as FramedReadings;
