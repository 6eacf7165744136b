import 'server-only';
import knex, { type Knex } from 'knex';
import { actor } from './actor.ts';

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

/** What follows each transaction that is under way, by a name. */
const followUps = new WeakMap<object, Map<string, () => Promise<void>>>();

/**
 * Does work that belongs together: all of it or nothing. What is written carries the name of whoever it is done for, by
 * the default of the column `person_id`. Resolves when what follows it ({@link afterCommit}) is done too.
 */
export async function transaction<T>(work: (q: Knex.Transaction) => Promise<T>): Promise<T> {
  const following = new Map<string, () => Promise<void>>();
  const done = await db().transaction(async (q) => {
    followUps.set(q, following);
    const who = actor()?.person.id;
    if (who !== undefined) await q.raw("SELECT set_config('umbral.person', ?, true)", [String(who)]);
    return work(q);
  });
  for (const follow of following.values()) await follow();
  return done;
}

/**
 * Does something when a transaction is through, so that none of its rows is held meanwhile; at once outside of one.
 *
 * @param name what is asked for twice under one name is done once
 * @param follow never rejects: what the transaction wrote is kept
 */
export async function afterCommit(q: Queries, name: string, follow: () => Promise<void>): Promise<void> {
  const following = followUps.get(q);
  // It would wait for what this very transaction holds.
  if (!following && q.isTransaction) throw new Error(`${name}: this transaction was not begun by transaction()`);
  if (!following) await follow();
  else if (!following.has(name)) following.set(name, follow);
}

export { json, plainText } from './plain.ts';
