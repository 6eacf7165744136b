import { spawnSync } from 'node:child_process';
import { giveTestDatabase } from '../../testing/database.ts';
import { db } from './db.ts';
import { once } from './once.ts';
import { asActor } from './actor.ts';
import type { Result } from './errors.ts';

giveTestDatabase();

let done = 0;
const work = async (): Promise<Result<number>> => {
  await db().raw('SELECT pg_sleep(0.05)');
  return { ok: true, value: ++done };
};
beforeEach(() => {
  done = 0;
});
const key = 'a-key-of-one-intention';

test('a change that is sent again, also at the same time, is one change with one answer', async () => {
  const answers = await Promise.all(Array.from({ length: 8 }, () => once(key, 'saving', work)));
  expect(done).toBe(1);
  expect(answers).toEqual(Array.from({ length: 8 }, () => ({ ok: true, value: 1 })));
  expect(await once(key, 'saving', work)).toEqual({ ok: true, value: 1 });
  expect(await once('another-intention-of-theirs', 'saving', work)).toEqual({ ok: true, value: 2 });
});

test('one that failed is done anew, and a sender without a key is not held back', async () => {
  const other = 'one-that-fails-at-first';
  expect(await once(other, 'saving', () => Promise.resolve({ ok: false, kind: 'input', message: 'no' }))).toMatchObject(
    {
      ok: false,
    },
  );
  await expect(once(other, 'saving', () => Promise.reject(new Error('broken')))).rejects.toThrow('broken');
  expect(await once(other, 'saving', work)).toEqual({ ok: true, value: 1 });
  for (const none of [null, '', 'short', 'x'.repeat(99), "';--"]) await once(none, 'saving', work);
  expect(done).toBe(6);
});

test('a key that was used for something else is refused, and nothing is done', async () => {
  const used = 'a-key-that-was-used-before';
  await once(used, 'saving', work);
  await expect(once(used, 'closing', work)).rejects.toThrow('already used for something else. Nothing was saved.');
  expect(done).toBe(1);
});

test('one that was broken off is said to be so, then can be done again; nobody takes another’s answer', async () => {
  const broken = 'one-whose-process-died';
  await db()('requests').insert({ key: broken, asked_at: db().raw("now() - interval '1 hour'") });
  await expect(once(broken, 'saving', work)).rejects.toThrow('The server stopped while saving. Check');
  expect(await once(broken, 'saving', work)).toEqual({ ok: true, value: 1 });
  // One whose process is gone is said to be so at once, also where its number was given to another one: this.
  const { pid: died } = spawnSync(process.execPath, ['-e', '']);
  for (const by of [`${died} some-run-of-it`, `${process.pid} an-earlier-run`]) {
    await db()('requests').insert({ key: 'one-that-died-just-now', process: by });
    await expect(once('one-that-died-just-now', 'saving', work)).rejects.toThrow('The server stopped while saving.');
  }
  const [{ id }] = (await db()('people').insert({ name: 'Someone', role: 'technician' }).returning('id')) as {
    id: number;
  }[];
  const somebody = { person: { id, name: 'Someone', role: 'technician' as const }, token: null, tokenId: null };
  await expect(asActor(somebody, () => once(broken, 'saving', work))).rejects.toThrow('belongs to someone else');
});
