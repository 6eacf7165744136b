import type { Queries } from './db.ts';

/** Rows in one statement: as many values as one may have. */
const atOnce = 200;
const withoutNumber = new Set(['openings', 'run_chunks']);

/** Inserts many rows, some at once; their numbers in the same order, where the table has any. */
export async function insertMany(q: Queries, table: string, rows: readonly object[]): Promise<{ id: number }[]> {
  const ids: { id: number }[] = [];
  for (let k = 0; k < rows.length; k += atOnce) {
    const part = q(table).insert(rows.slice(k, k + atOnce));
    if (withoutNumber.has(table)) await part;
    else ids.push(...((await part.returning('id')) as { id: number }[]));
  }
  return ids;
}
