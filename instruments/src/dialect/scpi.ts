import * as yup from 'yup';
import guarded from './data/scpi-guarded.json';
import plain from './data/ascii-plain.json';
import usual from './data/scpi-usual.json';
import { patternProblem } from './pattern.ts';
import { dialectId, factor, optional, readWith, step, whole, words } from './schema.ts';

/** A command, or several that are sent one after the other. */
export type Command = string | string[];

/** A question; with a pattern where only a part of the answer is meant, in its groups `value`, or `volts` and `amps`. */
export type Query = string | { ask: Command; pattern: string };

/** A limit that a supply holds by itself: how it is set, and the query that reads it back. */
export interface SelfLimit {
  set: string;
  ask: string;
}

/** How a number is written: as it is, or in steps of `scale` with leading zeros up to `width` characters. */
export interface NumberForm {
  scale: number;
  width: number;
}

/**
 * The commands of one make of supply, `umbral-scpi/1`: SCPI, or any other short texts. `{value}` stands for volts or amperes.
 * What a supply cannot say is null: the mode is then judged from the limit.
 */
export interface ScpiDialect {
  format: 'umbral-scpi/1';
  id: string;
  name: string;
  bauds: number[];
  /** What ends a command; empty where nothing does. */
  terminator: '' | '\n' | '\r\n' | '\r';
  /** What ends an answer: a line end, silence for so many milliseconds, or so many characters. */
  answer: { ends: 'line' } | { ends: 'silence'; ms: number } | { ends: 'length'; characters: number };
  /** It repeats what it was sent before it answers. */
  echo: boolean;
  /** Between two commands, milliseconds. */
  pauseMs: number;
  /** Null for one that cannot say who it is. */
  identify: string | null;
  clear: string | null;
  setVolts: Command;
  askVolts: Query;
  setLimit: Command;
  askLimit: Query;
  outputOn: Command;
  outputOff: Command;
  askOutput: Query;
  /** Which bit of the answer to `askOutput` is the output; null where the answer is the output. */
  outputBit: number | null;
  /** One query whose answer holds volts and amperes, in this order, separated by `;` or `,`. */
  measureBoth: Query | null;
  measureVolts: Query;
  measureAmps: Query;
  mode: { ask: Query; cvBit: number; ccBit: number } | null;
  /** Bits come as a number, or as one character whose code they are. */
  bitsAs: 'number' | 'character';
  /** The supply switches off by itself above a voltage, above a current, and after seconds of silence. */
  overVolts: SelfLimit | null;
  overAmps: SelfLimit | null;
  watchdog: SelfLimit | null;
  askError: string | null;
  /** How volts and amperes are written. */
  numbers: { volts: NumberForm; amps: NumberForm };
  decimals: number;
  /** How often it is asked, a second. */
  rateHz: number;
  /** Smallest steps that the supply shows. */
  resolutionV: number;
  resolutionA: number;
}

const text = () => yup.string().strict().min(1).max(200);
const isList = (given: unknown): boolean => Array.isArray(given);
const command = () =>
  yup.lazy((given: unknown) => (isList(given) ? yup.array(text().required()).min(1).max(5).required() : words()));
const needsValue = '${path} needs {value} where the number goes';
const setting = () =>
  yup.lazy((given: unknown) =>
    isList(given)
      ? yup
          .array(text().required())
          .min(1)
          .max(5)
          .test('value', needsValue, (list) => (list ?? []).some((c) => c.includes('{value}')))
          .required()
      : words().matches(/\{value\}/, needsValue),
  );
const queryForm = (given: unknown) =>
  typeof given === 'object' && given !== null
    ? yup
        .object({ ask: command(), pattern: words(300) })
        .noUnknown()
        .strict()
    : words();
const query = () => yup.lazy((given: unknown) => queryForm(given));
const maybeQuery = () =>
  yup.lazy((given: unknown) =>
    given === null || given === undefined ? yup.mixed().nullable().default(null) : queryForm(given),
  );
const selfLimit = () =>
  optional(
    yup
      .object({ set: words().matches(/\{value\}/, needsValue), ask: words() })
      .noUnknown()
      .strict(),
  );
const numberForm = () =>
  yup
    .object({ scale: factor().default(1), width: whole(0, 12).default(0) })
    .noUnknown()
    .strict()
    .default({ scale: 1, width: 0 });
const ends = () => yup.string().oneOf(['line', 'silence', 'length']).required();
/** What more is said of each way in which an answer ends. */
const answerForms: Record<string, () => yup.ObjectSchema<object>> = {
  silence: () => yup.object({ ends: ends(), ms: whole(5, 2000).required() }),
  length: () => yup.object({ ends: ends(), characters: whole(1, 200).required() }),
};
const answerEnds = yup.lazy((given: { ends?: unknown } | undefined) => {
  const form = answerForms[String(given?.ends)] ?? (() => yup.object({ ends: ends() }));
  return form().noUnknown().strict().default({ ends: 'line' });
});

const dialectSchema = yup
  .object({
    format: yup.string().oneOf(['umbral-scpi/1']).required(),
    id: dialectId(),
    name: words(),
    bauds: yup.array(whole(300, 4_000_000).required()).max(10).default([9600, 115_200]),
    terminator: yup
      .string()
      .strict()
      .oneOf(['', '\n', '\r\n', '\r'], '${path} must be "", "\\n", "\\r\\n" or "\\r"')
      .defined(),
    answer: answerEnds,
    echo: yup.boolean().strict().default(false),
    pauseMs: whole(0, 2000).default(0),
    identify: optional(text()),
    clear: optional(text()),
    setVolts: setting(),
    askVolts: query(),
    setLimit: setting(),
    askLimit: query(),
    outputOn: command(),
    outputOff: command(),
    askOutput: query(),
    outputBit: optional(whole(0, 31)),
    measureBoth: maybeQuery(),
    measureVolts: query(),
    measureAmps: query(),
    mode: optional(
      yup
        .object({ ask: query(), cvBit: whole(0, 31).required(), ccBit: whole(0, 31).required() })
        .noUnknown()
        .strict(),
    ),
    bitsAs: yup.string().oneOf(['number', 'character']).default('number'),
    overVolts: selfLimit(),
    overAmps: selfLimit(),
    watchdog: selfLimit(),
    askError: optional(text()),
    numbers: yup
      .object({ volts: numberForm(), amps: numberForm() })
      .noUnknown()
      .strict()
      .default({ volts: { scale: 1, width: 0 }, amps: { scale: 1, width: 0 } }),
    decimals: whole(0, 9).required(),
    rateHz: yup.number().strict().positive().max(200).default(50),
    resolutionV: step(),
    resolutionA: step(),
  })
  .noUnknown()
  .strict();

/**
 * Reads the commands of a make.
 *
 * @param value of a JSON file
 * @throws {RangeError} with every key that is wrong and what was expected
 */
export function readScpiDialect(value: unknown): ScpiDialect {
  const read = readWith<ScpiDialect>(dialectSchema, value, 'commands');
  const wrong: string[] = [];
  const check = (key: string, of: Query | null, groups: readonly string[]): void => {
    if (of === null || typeof of === 'string') return;
    const problem = patternProblem(of.pattern, groups);
    if (problem !== null) wrong.push(`${key}.pattern ${problem}`);
  };
  for (const key of ['askVolts', 'askLimit', 'askOutput', 'measureVolts', 'measureAmps'] as const)
    check(key, read[key], ['value']);
  check('measureBoth', read.measureBoth, ['volts', 'amps']);
  check('mode.ask', read.mode?.ask ?? null, ['value']);
  if (wrong.length > 0) throw new RangeError(`commands: ${wrong.join('; ')}`);
  return read;
}

/** The commands that most supplies with SCPI understand (SCPI-99, IEEE 488.2). */
export const usualScpi = readScpiDialect(usual);

/** The same for supplies that can be told to watch themselves. */
export const guardedScpi = readScpiDialect({ ...usual, ...guarded });

/** The commands of a supply without line ends, numbers of a fixed width, and one answer for all that it shows. */
export const plainAscii = readScpiDialect(plain);

/**
 * A number as a supply answers it, with or without a unit.
 *
 * @returns null where it is none
 */
export function readNumber(answer: string): number | null {
  const match = /^([+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?)(?:\s*[VAva])?$/.exec(answer.trim());
  const value = match ? Number(match[1]) : NaN;
  // 9.9E37 and beyond is SCPI's way of saying that there is no value.
  return Number.isFinite(value) && Math.abs(value) < 9e36 ? value : null;
}

/** What a supply says of its output: `1`, `ON`, `0` or `OFF`; null for anything else. */
export function readSwitch(answer: string): boolean | null {
  const word = answer.trim().toUpperCase();
  return ['1', 'ON'].includes(word) ? true : ['0', 'OFF'].includes(word) ? false : null;
}

/** An entry of the error queue; null for `0,"No error"`. */
export function readScpiError(answer: string): string | null {
  const match = /^([+-]?\d+)(?:\s*,([^"]*|\s*"[^"]*"?))?$/.exec(answer.trim());
  if (!match) return `an answer that is not an error entry: "${answer.slice(0, 80)}"`;
  return Number(match[1]) === 0 ? null : `${match[1]} ${(match[2] ?? '').replaceAll('"', '').trim()}`.trim();
}
