import * as yup from 'yup';
import guarded from './data/scpi-guarded.json';
import usual from './data/scpi-usual.json';

/** A limit that a supply holds by itself: how it is set, and the query that reads it back. */
export interface SelfLimit {
  set: string;
  ask: string;
}

/**
 * The commands of one make of supply, `umbral-scpi/1`. `{value}` stands for volts or amperes. What a supply cannot say is
 * null: the mode is then judged from the limit.
 */
export interface ScpiDialect {
  format: 'umbral-scpi/1';
  id: string;
  name: string;
  terminator: string;
  identify: string;
  clear: string | null;
  setVolts: string;
  askVolts: string;
  setLimit: string;
  askLimit: string;
  outputOn: string;
  outputOff: string;
  askOutput: string;
  /** One query whose answer holds volts and amperes, in this order, separated by `;` or `,`. */
  measureBoth: string | null;
  measureVolts: string;
  measureAmps: string;
  mode: { ask: string; cvBit: number; ccBit: number } | null;
  /** The supply switches off by itself above a voltage, above a current, and after seconds of silence. */
  overVolts: SelfLimit | null;
  overAmps: SelfLimit | null;
  watchdog: SelfLimit | null;
  askError: string | null;
  decimals: number;
  /** Smallest steps that the supply shows. */
  resolutionV: number;
  resolutionA: number;
}

const text = () => yup.string().strict().min(1).max(200);
const command = () => text().required();
const question = () => command().matches(/\?/, '${path} must be a query, with a question mark');
const setting = () => command().matches(/\{value\}/, '${path} needs {value} where the number goes');
/** Files from before supplies could be told to watch themselves do not name it. */
const selfLimit = () => yup.object({ set: setting(), ask: question() }).noUnknown().nullable().default(null);
const dialectSchema = yup
  .object({
    format: yup.string().oneOf(['umbral-scpi/1']).required(),
    id: text()
      .matches(/^[a-z0-9-]+$/)
      .required(),
    name: command(),
    terminator: yup.string().oneOf(['\n', '\r\n', '\r']).required(),
    identify: question(),
    clear: text().nullable().defined(),
    setVolts: setting(),
    askVolts: question(),
    setLimit: setting(),
    askLimit: question(),
    outputOn: command(),
    outputOff: command(),
    askOutput: question(),
    measureBoth: text().matches(/\?/).nullable().defined(),
    measureVolts: question(),
    measureAmps: question(),
    mode: yup
      .object({
        ask: question(),
        cvBit: yup.number().strict().integer().min(0).max(31).required(),
        ccBit: yup.number().strict().integer().min(0).max(31).required(),
      })
      .nullable()
      .defined()
      .default(undefined),
    overVolts: selfLimit(),
    overAmps: selfLimit(),
    watchdog: selfLimit(),
    askError: text().matches(/\?/).nullable().defined(),
    decimals: yup.number().strict().integer().min(0).max(9).required(),
    resolutionV: yup.number().strict().positive().max(1).required(),
    resolutionA: yup.number().strict().positive().max(1).required(),
  })
  .noUnknown()
  .strict();

/** Files from before supplies could be told to watch themselves do not name these. */
const selfLimits: Record<'overVolts' | 'overAmps' | 'watchdog', SelfLimit | null> = {
  overVolts: null,
  overAmps: null,
  watchdog: null,
};

/**
 * Reads the commands of a make.
 *
 * @param value of a JSON file
 * @throws {RangeError} with every key that is wrong and what was expected
 */
export function readScpiDialect(value: unknown): ScpiDialect {
  try {
    const read = dialectSchema.validateSync(value, { abortEarly: false }) as Omit<ScpiDialect, keyof typeof selfLimits>;
    return { ...selfLimits, ...read };
  } catch (error) {
    if (error instanceof yup.ValidationError) throw new RangeError(`SCPI commands: ${error.errors.join('; ')}`);
    throw error;
  }
}

/** The commands that most supplies with SCPI understand (SCPI-99, IEEE 488.2). */
export const usualScpi = readScpiDialect(usual);

/** The same for supplies that can be told to watch themselves. */
export const guardedScpi = readScpiDialect({ ...usual, ...guarded });

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
