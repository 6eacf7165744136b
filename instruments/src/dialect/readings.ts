import * as yup from 'yup';
import usual from './data/readings-usual.json';
import { patternProblem } from './scpi.ts';
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
}

/**
 * How a handheld multimeter writes what it shows, `umbral-readings/1`: a line each, by a pattern with the groups `value` and
 * `unit`, and `mode` where it says one.
 */
export interface ReadingDialect {
  format: 'umbral-readings/1';
  id: string;
  name: string;
  bauds: number[];
  pattern: string;
  /** What it measures, by its own word for the mode, or by the unit where it says none. */
  modes: Record<string, ReadingMode>;
  /** Factors to volts and ohm, by its own word for the unit. */
  units: Record<string, number>;
  /** Words for an open line. */
  overload: string[];
  /** Below so many ohm it beeps. */
  beepsBelowOhm: number;
  /** What it is asked with, and how often; null where it sends by itself. */
  request: { text: string; everyMs: number } | null;
}

const usualBeepOhm = 30;

const mapOf = <T>(of: yup.Schema<T>) =>
  yup.lazy((given: unknown) =>
    yup
      .object(Object.fromEntries(Object.keys((given ?? {}) as object).map((key) => [key, of])) as yup.ObjectShape)
      .required()
      .strict(),
  );

const schema = yup
  .object({
    format: yup.string().oneOf(['umbral-readings/1']).required(),
    id: dialectId(),
    name: words(),
    bauds: yup.array(whole(300, 4_000_000).required()).max(10).default([9600, 2400]),
    pattern: words(300),
    modes: mapOf(yup.string().oneOf(readingModes).required()),
    units: mapOf(factor().required()),
    overload: yup.array(words(20)).min(1).max(10).default(['OL']),
    beepsBelowOhm: yup.number().strict().positive().max(1000).default(usualBeepOhm),
    request: optional(
      yup
        .object({ text: words(50), everyMs: whole(20, 60_000).required() })
        .noUnknown()
        .strict(),
    ),
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
  const read = readWith<ReadingDialect>(schema, value, 'readings');
  const problem = patternProblem(read.pattern, ['value', 'unit']);
  if (problem !== null) throw new RangeError(`readings: pattern ${problem}`);
  return read;
}

/**
 * Makes a reader for the lines of one multimeter.
 *
 * @returns null for a line that is no reading, or of something else than volts and ohm
 */
export function readingReader(dialect: ReadingDialect): (line: string) => MeterReading | null {
  const pattern = new RegExp(dialect.pattern);
  return (line) => {
    const groups = pattern.exec(line)?.groups;
    if (!groups) return null;
    const { value = '', unit = '', mode } = groups;
    const measured = Object.hasOwn(dialect.modes, mode ?? unit) ? dialect.modes[mode ?? unit] : null;
    if (measured === null) return null;
    if (dialect.overload.includes(value.trim())) return { mode: measured, value: null, ol: true, beeps: false };
    const factorOf = Object.hasOwn(dialect.units, unit) ? dialect.units[unit] : null;
    const number = /^[+-]?\d+(\.\d*)?$/.test(value.trim()) ? Number(value) : NaN;
    if (factorOf === null || Number.isNaN(number)) return null;
    const si = Number((number * factorOf).toPrecision(shownDigits));
    return { mode: measured, value: si, ol: false, beeps: measured === 'continuity' && si < dialect.beepsBelowOhm };
  };
}

const shownDigits = 9;

/** How the multimeter that ships writes: mode, value, unit. */
export const usualReadings = readReadingDialect(usual);
