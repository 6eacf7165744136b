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

/** The first list that holds more than its schema allows, by its path and what is allowed; null for none. */
function longList(of: Description | undefined, value: unknown, path: string): { path: string; most: number } | null {
  if (Array.isArray(value)) {
    const { tests = [], innerType } = (of ?? {}) as Partial<ArrayDescription>;
    const most = tests.find((t) => t.name === 'max' || t.name === 'length')?.params;
    const limit = Number(most?.max ?? most?.length ?? usualMost);
    if (value.length > limit) return { path, most: limit };
    for (const [k, inner] of value.entries()) {
      const found = longList(innerType, inner, `${path}[${k}]`);
      if (found) return found;
    }
    return null;
  }
  if (typeof value !== 'object' || value === null) return null;
  const { fields } = (of ?? {}) as { fields?: Record<string, Description> };
  for (const [key, field] of Object.entries(fields ?? {})) {
    const inner = Object.hasOwn(value, key) ? (value as Record<string, unknown>)[key] : undefined;
    const found = longList(field, inner, path === '' ? key : `${path}.${key}`);
    if (found) return found;
  }
  return null;
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
  const parts = countParts(value, mostParts);
  if (parts > mostParts)
    throw new yup.ValidationError(
      `too much at once; expected at most ${mostParts.toLocaleString('en')} values`,
      undefined,
      '',
    );
  const long = schema instanceof yup.Schema ? longList(descriptionOf(schema), value, '') : null;
  if (long)
    throw new yup.ValidationError(
      `${long.path}: too many entries; expected at most ${long.most.toLocaleString('en')}`,
      undefined,
      long.path,
    );
  return schema.validateSync(value, { ...options, abortEarly: parts > few });
}
