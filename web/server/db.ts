import knex, { type Knex } from 'knex';
import { actor } from './people/actor.ts';

declare global {
  var umbralDb: Knex | undefined;
}

/**
 * The connection pool; one a process, also across development reloads.
 *
 * @throws {Error} where no address of a database is set
 */
export function db(): Knex {
  if (!globalThis.umbralDb) {
    const url = process.env.DATABASE_URL;
    if (!url) throw new Error('DATABASE_URL is not set; start with "npm run demo" or "npm start" at the root');
    globalThis.umbralDb = knex({
      client: 'pg',
      connection: url,
      pool: { min: 0, max: 10 },
      acquireConnectionTimeout: 8000,
    });
  }
  return globalThis.umbralDb;
}

/** A transaction, or the pool. */
export type Queries = Knex | Knex.Transaction;

/**
 * Does work that belongs together: all of it or nothing. What is written carries the name of whoever it is done for, by
 * the default of the column `person_id`.
 */
export function transaction<T>(work: (q: Knex.Transaction) => Promise<T>): Promise<T> {
  return db().transaction(async (q) => {
    const who = actor()?.person.id;
    if (who !== undefined) await q.raw("SELECT set_config('umbral.person', ?, true)", [String(who)]);
    return work(q);
  });
}

/** JSON for a jsonb column. PostgreSQL holds no zero character in text, so it is taken out. */
export function json(value: unknown): string {
  return JSON.stringify(value).replaceAll('\\u0000', '');
}

/** Text for a text column, without the zero character that PostgreSQL refuses. */
export function plain(text: string): string {
  return text.replaceAll('\0', '');
}
