import { readInput } from '@umbral/core';
import * as yup from 'yup';

/** A short text that a file must give. */
export const words = (most = 200) => yup.string().strict().min(1).max(most).required();

export const dialectId = () => words(60).matches(/^[a-z0-9-]+$/, '${path} must be of small letters, digits and "-"');

/** A whole number within bounds. */
export const whole = (least: number, most: number) => yup.number().strict().integer().min(least).max(most);

/** A smallest step that is shown, volts or amperes. */
export const step = () => yup.number().strict().positive().max(1).required();

/** A factor from what is sent to volts, amperes or seconds. */
export const factor = () =>
  yup
    .number()
    .strict()
    .test('factor', '${path} must not be 0, or every value would be', (x) => x !== 0);

/** What may be left out, or be null. */
export const optional = <T extends yup.Schema>(schema: T) => schema.nullable().default(null);

const hexPattern = /^([0-9a-f]{2}([ ,]?[0-9a-f]{2})*)?$/i;

/** Bytes as pairs of hexadecimal digits: "AA 55". */
export const hex = (most = 64) =>
  yup
    .string()
    .strict()
    .matches(hexPattern, '${path} must be bytes in hexadecimal, such as "AA 55"')
    .test('bytes', `\${path} must be at most ${most} bytes`, (x) => bytesOfHex(x ?? '').length <= most);

/** The bytes of "AA 55". */
export function bytesOfHex(text: string): Uint8Array {
  return Uint8Array.from(text.match(/[0-9a-f]{2}/gi) ?? [], (pair) => Number.parseInt(pair, 16));
}

/** Bytes as people write them: "AA 55". */
export const hexOf = (bytes: Iterable<number>): string =>
  [...bytes].map((b) => b.toString(16).toUpperCase().padStart(2, '0')).join(' ');

/**
 * Reads a part of a file.
 *
 * @param what the file describes, for the message
 * @throws {RangeError} with every key that is wrong and what was expected
 */
export function readWith<T>(schema: yup.Schema<unknown>, value: unknown, what: string): T {
  try {
    return schema.cast(readInput(schema, value)) as T;
  } catch (error) {
    if (error instanceof yup.ValidationError) throw new RangeError(`${what}: ${error.errors.join('; ')}`);
    throw error;
  }
}
