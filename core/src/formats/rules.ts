import * as yup from 'yup';
import { problemsOf, type readInput } from './bounds.ts';
import { absurdAbove, type Kind } from '../quantity/index.ts';

/** Messages say what was expected; the path is added by whoever reports them. */
export const expected = {
  object: 'expected an object',
  array: 'expected a list',
  string: 'expected text',
  number: 'expected a number',
  boolean: 'expected true or false',
};

export const text = () =>
  yup.string().typeError(expected.string).nullable().max(20_000, 'expected at most 20,000 characters');
export const id = () =>
  yup
    .string()
    .typeError(expected.string)
    .required('is missing; expected an id')
    .max(200, 'expected at most 200 characters');
export const flag = () => yup.boolean().typeError(expected.boolean).nullable();
/** @param kind of a quantity: beyond what a bench measures of it is a slip; without one, beyond a million million */
export const number = (kind?: Kind) => {
  const most = kind ? absurdAbove[kind] : 1e12;
  return yup
    .number()
    .typeError(expected.number)
    .nullable()
    .test(
      'bounded',
      `is more than a bench can measure; expected at most ${most}`,
      (x) => x == null || Math.abs(x) <= most,
    );
};
export const above0 = (kind?: Kind) =>
  number(kind).test('above-0', 'must be above 0; expected a number above 0', (x) => x == null || x > 0);
export const from0 = (kind?: Kind) =>
  number(kind).test('from-0', 'must not be negative; expected a number from 0', (x) => x == null || x >= 0);
export const oneOf = (values: readonly string[]) =>
  yup
    .mixed<string>()
    .nullable()
    .test(
      'one-of',
      `expected one of ${values.join(', ')}`,
      (x) => x == null || (typeof x === 'string' && values.includes(x)),
    );
export const needed = (values: readonly string[]) =>
  oneOf(values).test('needed', `is missing; expected one of ${values.join(', ')}`, (x) => x != null);
export const gain = () =>
  number().test('not-0', 'must not be 0; expected the gain of the instrument, near 1', (x) => x !== 0);
/** @param most entries that it may hold: more than any bench makes */
export const list = <T extends yup.ISchema<unknown>>(of: T, most = 1000) =>
  yup
    .array()
    .typeError(expected.array)
    .of(of as never)
    .max(most, `too many entries; expected at most ${most.toLocaleString('en')}`)
    .nullable();

/**
 * An object whose keys are checked; keys beyond them are kept. Left out and null mean the same, and a required part
 * cannot be null.
 */
export function part<S extends yup.ObjectShape>(shape: S, isRequired = false) {
  const schema = yup.object(shape).typeError(expected.object);
  return isRequired ? schema.required(`is missing; ${expected.object}`) : schema.nullable().default(undefined);
}

const maxSaid = 100;

/** Whether a value is as a schema wants it; says everything that is not, with its path, up to a hundred findings. */
export function schemaHolds(
  schema: Parameters<typeof readInput>[0],
  raw: unknown,
  error: (place: string, message: string) => void,
): boolean {
  const problems = problemsOf(schema as yup.Schema, raw, maxSaid);
  for (const { path, message } of problems) error(path, message);
  return problems.length === 0;
}
