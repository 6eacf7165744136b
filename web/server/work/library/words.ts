import { levelsNear, meantBy } from '@umbral/core';
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
 * That a confirmed case, in a query as `c`, says a word: one of its model or part begins with it, its pattern or its circuit is
 * called so, or its job has that number.
 */
export function tellsWord(where: Knex.QueryBuilder, word: string): void {
  void where.whereRaw(`c.words @@ to_tsquery('simple', ?)`, [`${word}:*`]);
  const { patterns, circuits } = meantBy(word);
  if (patterns.length > 0) void where.orWhereIn('c.pattern', patterns);
  if (circuits.length > 0) void where.orWhereIn('c.circuit', circuits);
  if (/^\d{1,9}$/.test(word)) void where.orWhere('c.job_id', Number(word));
}

/** That a run of a confirmed case, in a query as `c`, stood near a level; within some per cent of a voltage, where one is said. */
export function stoodNear(where: Knex.QueryBuilder, amps: number | null, volts: number | null): void {
  if (amps === null && volts === null) return;
  const asked = [
    ...(amps === null ? [] : [{ sql: 'r.amps BETWEEN ? AND ?', bounds: levelsNear(amps) }]),
    ...(volts === null
      ? []
      : [{ sql: 'r.volts BETWEEN ? AND ?', bounds: [volts * (1 - nearVolts), volts * (1 + nearVolts)] }]),
  ];
  void where.whereRaw(
    `EXISTS (SELECT FROM library_runs r WHERE r.case_id = c.id AND ${asked.map((a) => a.sql).join(' AND ')})`,
    asked.flatMap((a) => a.bounds),
  );
}

const nearVolts = 0.15;
