import { circuitIds, circuitNames } from '@umbral/core';
import type { Knex } from 'knex';

/** A model's name as two people write it, in SQL as {@link modelKey} has it; the indexes are on this very expression. */
export const modelKeyOf = (column: string): string => `lower(regexp_replace(btrim(${column}), '\\s+', ' ', 'g'))`;

/** Words of a text that can be looked for. */
export const wordsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((w) => w !== '');

/**
 * That a confirmed case, in a query as `c`, says a word: one of its model or part begins with it, its circuit's name has it, or
 * its job has that number.
 */
export function tellsWord(where: Knex.QueryBuilder, word: string): void {
  void where.whereRaw(`c.words @@ to_tsquery('simple', ?)`, [`${word}:*`]);
  const circuits = circuitIds.filter((id) => circuitNames[id].toLowerCase().includes(word));
  if (circuits.length > 0) void where.orWhereIn('c.circuit', circuits);
  if (/^\d{1,9}$/.test(word)) void where.orWhere('c.job_id', Number(word));
}
