import * as yup from 'yup';

/** Entries of a list whose schema names no most. */
const usualMost = 1000;
/** Values for which everything that is wrong is said, where nobody says another number; of more, the first thing that is. */
const usualFew = 500;
/** Values in one input, whatever its schema: more is none that a person or an instrument made. */
const mostParts = 400_000;

type Description = ReturnType<yup.Schema['describe']>;
const described = new WeakMap<yup.Schema, Description>();

const descriptionOf = (schema: yup.Schema): Description => {
  const known = described.get(schema) ?? schema.describe();
  described.set(schema, known);
  return known;
};

interface ArrayDescription extends Description {
  innerType?: Description;
}

/** What was found of an input before it was read: the first list that is too long, by its path and what is allowed, and values. */
interface Size {
  parts: number;
  long: { path: string; most: number } | null;
}

/** Counts what the schema speaks of, up to where it is too much. What it does not speak of is not looked at later either. */
function sizeUp(of: Description | undefined, value: unknown, path: string, size: Size): void {
  size.parts++;
  if (size.long !== null || size.parts > mostParts) return;
  if (Array.isArray(value)) {
    const { tests = [], innerType } = (of ?? {}) as Partial<ArrayDescription>;
    const most = tests.find((t) => t.name === 'max' || t.name === 'length')?.params;
    const limit = Number(most?.max ?? most?.length ?? usualMost);
    if (value.length > limit) size.long = { path, most: limit };
    else for (const [k, inner] of value.entries()) sizeUp(innerType, inner, `${path}[${k}]`, size);
    return;
  }
  if (typeof value !== 'object' || value === null) return;
  const { fields } = (of ?? {}) as { fields?: Record<string, Description> };
  // What may be anything is counted as it is; of what has fields one that is missing takes its time too.
  if (!fields) size.parts += countParts(value, mostParts);
  for (const [key, field] of Object.entries(fields ?? {}))
    if (!Object.hasOwn(value, key)) size.parts++;
    else sizeUp(field, (value as Record<string, unknown>)[key], path === '' ? key : `${path}.${key}`, size);
}

/** How many values something holds, counted no further than is asked for. */
function countParts(value: unknown, most: number): number {
  let count = 0;
  const left: unknown[] = [value];
  while (left.length > 0 && count <= most) {
    const next = left.pop();
    count++;
    if (typeof next === 'object' && next !== null) for (const inner of Object.values(next)) left.push(inner);
  }
  return count;
}

/**
 * Reads an input that came from outside by its schema, in a time that grows with what the schema allows and not with what was
 * sent: lists are counted before anything of them is looked at. Of a small input everything that is wrong is said, of a large
 * one the first thing.
 *
 * @param options.few values that count as small: more where nobody waits for this thread
 * @throws {yup.ValidationError} with the path and what was expected
 */
export function readInput<T>(
  schema: { validateSync(value: unknown, options: yup.ValidateOptions): T },
  value: unknown,
  { few = usualFew, ...options }: yup.ValidateOptions & { few?: number } = {},
): T {
  const size: Size = { parts: 0, long: null };
  sizeUp(schema instanceof yup.Schema ? descriptionOf(schema) : undefined, value, '', size);
  if (size.parts > mostParts)
    throw new yup.ValidationError(
      `too much at once; expected at most ${mostParts.toLocaleString('en')} values`,
      undefined,
      '',
    );
  if (size.long)
    throw new yup.ValidationError(
      `${size.long.path}: too many entries; expected at most ${size.long.most.toLocaleString('en')}`,
      undefined,
      size.long.path,
    );
  return schema.validateSync(value, { ...options, abortEarly: size.parts > few });
}

/** Values that are looked at together while everything that is wrong is gathered. */
const together = 200;

/**
 * What is wrong with an input, up to a number of findings, piece by piece: a list of thousands of wrong entries is left where
 * enough is said of it.
 *
 * @returns findings with their paths; none for an input that is as the schema wants it
 */
export function problemsOf(schema: yup.Schema, value: unknown, most: number): { path: string; message: string }[] {
  let first: yup.ValidationError;
  try {
    readInput(schema, value, { strict: true, few: 0 });
    return [];
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    first = error;
  }
  const found = new Map<string, { path: string; message: string }>();
  const note = (path: string, message: string): void => {
    if (found.size < most) found.set(`${path} ${message}`, { path, message });
  };
  const at = (path: string, inner = ''): string =>
    path === '' || inner === '' || inner.startsWith('[') ? path + inner : `${path}.${inner}`;
  const visit = (of: yup.ISchema<unknown>, part: unknown, path: string): void => {
    if (found.size >= most) return;
    if (countParts(part, together) > together) {
      if (of instanceof yup.ArraySchema && Array.isArray(part) && of.innerType) {
        for (const [k, entry] of part.entries()) visit(of.innerType as yup.Schema, entry, `${path}[${k}]`);
        return;
      }
      if (of instanceof yup.ObjectSchema && typeof part === 'object' && part !== null) {
        for (const [key, field] of Object.entries(of.fields as Record<string, yup.ISchema<unknown>>))
          visit(field, Object.hasOwn(part, key) ? (part as Record<string, unknown>)[key] : undefined, at(path, key));
        return;
      }
    }
    try {
      (of as yup.Schema).validateSync(part, { strict: true, abortEarly: false });
    } catch (error) {
      if (!(error instanceof yup.ValidationError)) throw error;
      for (const one of error.inner.length > 0 ? error.inner : [error]) note(at(path, one.path), one.message);
    }
  };
  if (!/too many entries|too much at once/.test(first.message)) visit(schema, value, '');
  // What only the whole shows, or the one thing that stopped everything else.
  if (found.size === 0) note(first.path ?? '', first.message.replace(`${first.path}: too many`, 'too many'));
  return [...found.values()];
}
