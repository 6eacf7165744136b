import type { Kind } from '../quantity/index.ts';

/**
 * A field of a record, said once: its type, what it is where nobody said, what a package may hold, and its column.
 *
 * `id` and `name` are texts that must be given; a choice must be where it has no default; a number never need be, unless it
 * says how it is missed.
 */
export interface Field<T, Column extends string = string> {
  readonly kind: 'id' | 'name' | 'text' | 'flag' | 'number' | 'choice' | 'names' | 'span';
  /** What it is where nobody said; left out where it must be said. */
  readonly byDefault?: T;
  /** It may be left out of a package although it has no default: something else of the record says it. */
  readonly mayBeMissing?: true;
  readonly quantity?: Kind;
  readonly bound?: 'from 0' | 'above 0';
  readonly missing?: string;
  readonly choices?: readonly string[];
  /** Its column, where that is not its name in snake case. */
  readonly column?: Column;
}
export type Fields = Readonly<Record<string, Field<unknown>>>;

/** What a record of these fields holds. */
export type ValuesOf<F extends Fields> = { [K in keyof F]: F[K] extends Field<infer T> ? T : never };

/** Its fields that have a default. */
type Defaulted<F extends Fields> = {
  [K in keyof F]: F[K] extends { readonly byDefault: unknown } ? K : never;
}[keyof F];

type Default<T> = { readonly byDefault: T };

/** What a value moves between where the meter does not come to rest. */
export interface Swing {
  low: number;
  high: number;
}

interface NumberRule {
  quantity?: Kind;
  bound?: 'from 0' | 'above 0';
}

/** The kinds of fields. Each names what it holds and its default. */
export const field = {
  /** An id that must be given. */
  id: (): Field<string> => ({ kind: 'id' }),
  /** Words that must be given. */
  name: (): Field<string> => ({ kind: 'name' }),
  text: <D extends string | null>(byDefault: D): Field<string | D> & Default<string | D> => ({
    kind: 'text',
    byDefault,
  }),
  flag: <D extends boolean | null>(byDefault: D): Field<boolean | D> & Default<boolean | D> => ({
    kind: 'flag',
    byDefault,
  }),
  number: (rule: NumberRule = {}): Field<number | null> & Default<number | null> => ({
    kind: 'number',
    byDefault: null,
    ...rule,
  }),
  /** A number that must be given; `missing` says so. */
  given: (missing: string, rule: NumberRule): Field<number> => ({ kind: 'number', missing, ...rule }),
  choice: <T extends string>(choices: readonly T[]): Field<T | null> & Default<T | null> => ({
    kind: 'choice',
    choices,
    byDefault: null,
  }),
  oneOf: <T extends string>(choices: readonly T[]): Field<T> => ({ kind: 'choice', choices }),
  names: (): Field<string[]> & Default<string[]> => ({ kind: 'names', byDefault: [] }),
  span: (): Field<Swing | null> & Default<Swing | null> => ({ kind: 'span', byDefault: null }),
  /** The field under another name in the database. */
  inColumn: <F, C extends string>(column: C, of: F): F & { readonly column: C } => ({ ...of, column }),
  /** A field that something else of the record says where it is left out. */
  implied: <F>(of: F): F & { readonly mayBeMissing: true } => ({ ...of, mayBeMissing: true }),
};

/** A record of which nothing is known but what must be given. */
export function defaultsOf<F extends Fields>(fields: F): Pick<ValuesOf<F>, Defaulted<F>> {
  const given = Object.entries(fields).filter(([, f]) => f.byDefault !== undefined);
  return Object.fromEntries(given.map(([key, f]) => [key, f.byDefault])) as Pick<ValuesOf<F>, Defaulted<F>>;
}

type Snake<S extends string> = S extends `${infer Head}${infer Tail}`
  ? `${Head extends Uppercase<Head> ? (Head extends Lowercase<Head> ? Head : `_${Lowercase<Head>}`) : Head}${Snake<Tail>}`
  : S;
type ColumnOf<K, F> = F extends { readonly column: infer C extends string } ? C : Snake<K & string>;

/** A record as columns of a table. */
export type ColumnsOf<F extends Fields> = {
  [K in keyof F as ColumnOf<K, F[K]>]: F[K] extends Field<infer T> ? T : never;
};

/** The column of a field. */
export const columnOf = (key: string, { column }: Field<unknown>): string =>
  column ?? key.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);

/**
 * A record from its columns.
 *
 * @param row with these columns, and perhaps more
 */
export function fromColumns<F extends Fields>(fields: F, row: ColumnsOf<F>): ValuesOf<F> {
  const columns = row as Readonly<Record<string, unknown>>;
  return Object.fromEntries(Object.entries(fields).map(([key, f]) => [key, columns[columnOf(key, f)]])) as ValuesOf<F>;
}

/**
 * A record as columns.
 *
 * @param write how a value of a field is written, such as text without what a database refuses
 */
export function toColumns<F extends Fields>(
  fields: F,
  value: ValuesOf<F>,
  write: (value: unknown, of: Field<unknown>) => unknown = (x) => x,
): ColumnsOf<F> {
  return Object.fromEntries(
    Object.entries(fields).map(([key, f]) => [columnOf(key, f), write(value[key], f)]),
  ) as ColumnsOf<F>;
}
