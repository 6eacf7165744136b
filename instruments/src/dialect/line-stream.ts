import * as yup from 'yup';
import usual from './data/lines-usual.json';
import { dialectId, optional, readWith, step, words } from './schema.ts';
import { patternOf, patternProblem } from './pattern.ts';

/**
 * How a meter writes its lines, `umbral-lines/1`: values with a delimiter, JSON objects, or a pattern with named groups.
 * `columns` names where volts and amperes stand, and the meter's own seconds where it sends them.
 */
export interface LineDialect {
  format: 'umbral-lines/1';
  id: string;
  name: string;
  bauds: number[];
  kind: 'delimited' | 'json' | 'pattern';
  delimiter: string | null;
  pattern: string | null;
  columns: { volts: string | number; amps: string | number; seconds: string | number | null };
  /** Factors to volts, amperes and seconds. */
  scale: { volts: number; amps: number; seconds: number };
  /** Where the meter sends no time of its own: how many lines a second, or null for the time of arrival. */
  rateHz: number | null;
  resolutionV: number;
  resolutionA: number;
}

/** A line as the meter meant it. Volts, amperes, seconds; NaN where the line leaves a value out. */
interface StreamedLine {
  volts: number;
  amps: number;
  seconds: number | null;
}

const place = () =>
  yup
    .mixed<string | number>()
    .test(
      'place',
      '${path} must be a name or the number of a column, from 0',
      (x) => (x ?? null) === null || typeof x === 'string' || (Number.isInteger(x) && Number(x) >= 0 && Number(x) < 64),
    );
const factor = () => yup.number().strict().positive().required();
const dialectSchema = yup
  .object({
    format: yup.string().oneOf(['umbral-lines/1']).required(),
    id: dialectId(),
    name: words(),
    bauds: yup
      .array(yup.number().strict().integer().min(300).max(4_000_000).required())
      .max(10)
      .default([115_200, 9600]),
    kind: yup.string().oneOf(['delimited', 'json', 'pattern']).required(),
    delimiter: optional(yup.string().strict().max(3)),
    pattern: optional(yup.string().strict().max(300)),
    columns: yup
      .object({ volts: place().required(), amps: place().required(), seconds: place().nullable().default(null) })
      .required(),
    scale: yup.object({ volts: factor(), amps: factor(), seconds: factor() }).required(),
    rateHz: optional(yup.number().strict().positive().max(100_000)),
    resolutionV: step(),
    resolutionA: step(),
  })
  .noUnknown()
  .strict();

/**
 * Reads how a meter writes.
 *
 * @param value of a JSON file
 * @throws {RangeError} with every key that is wrong and what was expected
 */
export function readLineDialect(value: unknown): LineDialect {
  const dialect = readWith<LineDialect>(dialectSchema, value, 'meter lines');
  if (dialect.kind === 'delimited' && !dialect.delimiter) throw new RangeError('meter lines: delimiter is missing');
  if (dialect.kind === 'pattern') checkPattern(dialect);
  return dialect;
}

function checkPattern({ pattern, columns }: LineDialect): void {
  if (!pattern) throw new RangeError('meter lines: pattern is missing');
  const groups = [columns.volts, columns.amps, columns.seconds].filter((name) => name !== null);
  const problem = patternProblem(pattern, groups.map(String));
  if (problem !== null) throw new RangeError(`meter lines: pattern ${problem}`);
}

/** How the meter that ships writes: seconds, volts, amperes with semicolons. */
export const usualLines = readLineDialect(usual);

/**
 * Makes a reader for one meter's lines.
 *
 * @returns a function that gives null for a line that holds no measurement: a heading, half a line, noise
 */
export function lineReader(dialect: LineDialect): (line: string) => StreamedLine | null {
  const { columns, scale } = dialect;
  const valuesOf = splitterOf(dialect);
  return (line) => {
    const find = valuesOf(line);
    if (!find) return null;
    const [volts, amps] = [numberIn(find(columns.volts)), numberIn(find(columns.amps))];
    if (volts === null || amps === null) return null;
    const seconds = columns.seconds === null ? null : numberIn(find(columns.seconds));
    if (columns.seconds !== null && (seconds === null || Number.isNaN(seconds))) return null;
    if (Number.isNaN(volts) && Number.isNaN(amps)) return null;
    return {
      volts: volts * scale.volts,
      amps: amps * scale.amps,
      seconds: seconds === null ? null : seconds * scale.seconds,
    };
  };
}

type Find = (place: string | number) => unknown;

function splitterOf(dialect: LineDialect): (line: string) => Find | null {
  if (dialect.kind === 'json') {
    return (line) => {
      let value: unknown;
      try {
        value = JSON.parse(line);
      } catch {
        return null;
      }
      if (typeof value !== 'object' || value === null) return null;
      const found = value as Record<string, unknown>;
      return (place) => (Object.hasOwn(found, place) ? found[place] : undefined);
    };
  }
  if (dialect.kind === 'pattern') {
    const pattern = patternOf(dialect.pattern ?? '');
    return (line) => {
      const groups = pattern.exec(line);
      return groups ? (place) => groups[place] : null;
    };
  }
  const delimiter = dialect.delimiter ?? ',';
  return (line) => {
    const cells = line.split(delimiter);
    return (place) => cells[Number(place)];
  };
}

/** A number; NaN for a value that is left out on purpose; null for what is none. */
function numberIn(value: unknown): number | null {
  if (typeof value === 'number') return Number.isFinite(value) ? value : null;
  if (value === null) return NaN;
  if (typeof value !== 'string') return null;
  const text = value.trim();
  if (text === '' || /^(nan|-+|ol)$/i.test(text)) return NaN;
  return /^[+-]?(\d+(?:\.\d*)?|\.\d+)(e[+-]?\d+)?$/i.test(text) ? Number(text) : null;
}
