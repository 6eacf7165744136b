import { db } from '../server/record/db';
import { makeTestSchema, type TestSchema } from '../../instruments/src/testing/schema.ts';

/** Gives a test file a schema of its own in the test database, with all migrations, and takes it away again. */
export function giveTestDatabase(): void {
  let schema: TestSchema | undefined;

  beforeAll(async () => {
    schema = await makeTestSchema();
    globalThis.umbralDb = schema.db;
    await db().raw('SELECT 1');
  }, 180_000);

  // Where it could not be made there is nothing to take away, and the failure is that one.
  afterAll(() => schema?.drop());
}
