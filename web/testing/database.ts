import knex, { type Knex } from 'knex';
import { join } from 'node:path';
import { db } from '@/server/db';

/** Gives a test file a schema of its own in the test database, with all migrations, and takes it away again. */
export function giveTestDatabase(): void {
  const url = process.env.UMBRAL_TEST_DATABASE_URL;
  const schema = `unit_${process.pid}_${Math.floor(Math.random() * 1e9)}`;
  let admin: Knex;

  beforeAll(async () => {
    if (!url) throw new Error('UMBRAL_TEST_DATABASE_URL is not set; run the tests with "npm test"');
    admin = knex({ client: 'pg', connection: url });
    await admin.raw(`CREATE SCHEMA ${schema}`);
    globalThis.umbralDb = knex({
      client: 'pg',
      connection: url,
      searchPath: [schema],
      pool: { min: 0, max: 6 },
      migrations: {
        directory: join(__dirname, '..', 'server', 'migrations'),
        loadExtensions: ['.cjs'],
        schemaName: schema,
      },
    });
    await db().migrate.latest();
  }, 60_000);

  afterAll(async () => {
    await db().destroy();
    await admin.raw(`DROP SCHEMA ${schema} CASCADE`);
    await admin.destroy();
  });
}
