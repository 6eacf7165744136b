import knex, { type Knex } from 'knex';
import { join } from 'node:path';
import * as words from '@umbral/core/words';
import { applyCatalogues } from '../../../web/server/catalogue-constraints.cjs';

/** A schema of its own in the test database, with all migrations. */
export interface TestSchema {
  db: Knex;
  /** A connection string that sees only this schema. */
  url: string;
  drop(): Promise<void>;
}

/** @throws {Error} where the tests were not started with `npm test` */
export async function makeTestSchema(): Promise<TestSchema> {
  const base = process.env.UMBRAL_TEST_DATABASE_URL;
  if (!base) throw new Error('UMBRAL_TEST_DATABASE_URL is not set; run the tests with "npm test"');
  const schema = `unit_${process.pid}_${Math.floor(Math.random() * 1e9)}`;
  const admin = knex({ client: 'pg', connection: base });
  await admin.raw(`CREATE SCHEMA ${schema}`);
  const url = `${base}?options=${encodeURIComponent(`-c search_path=${schema}`)}`;
  const db = knex({
    client: 'pg',
    connection: url,
    pool: { min: 0, max: 6 },
    migrations: {
      directory: join(__dirname, '..', '..', '..', 'web', 'server', 'migrations'),
      loadExtensions: ['.cjs'],
      schemaName: schema,
    },
  });
  try {
    await db.migrate.latest();
    await applyCatalogues(db, words);
  } catch (error) {
    // A connection that stays open keeps the whole run from ending.
    await Promise.all([db.destroy(), admin.destroy()]);
    throw error;
  }
  return {
    db,
    url,
    drop: async () => {
      await db.destroy();
      await admin.raw(`DROP SCHEMA ${schema} CASCADE`);
      await admin.destroy();
    },
  };
}
