import { db } from '../server/platform/db';
import { makeTestSchema, type TestSchema } from '../../instruments/src/testing/schema.ts';

/** Gives a test file a schema of its own in the test database, with all migrations, and takes it away again. */
export function giveTestDatabase(): void {
  let schema: TestSchema;

  beforeAll(async () => {
    schema = await makeTestSchema();
    globalThis.umbralDb = schema.db;
    await db().raw('SELECT 1');
  }, 180_000);

  afterAll(() => schema.drop());
}
