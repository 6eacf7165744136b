import PgBoss from 'pg-boss';
import { db } from './db.ts';
import { log } from './errors.ts';
import { emptyTrash } from './trash.ts';

/** Work that nobody waits for. Its queues are made with the schema; whichever process is free does it, once. */
const work: Record<string, () => Promise<unknown>> = {
  'empty-trash': emptyTrash,
  'forget-sessions': forgetSessions,
};

/** Takes out what is over: sessions, codes, and who was in which job. */
export async function forgetSessions(): Promise<void> {
  const q = db();
  await q('sessions').where('expires_at', '<', q.fn.now()).delete();
  await q('sign_in_codes').where('expires_at', '<', q.raw("now() - interval '1 day'")).delete();
  await q('presence').where('seen_at', '<', q.raw("now() - interval '1 hour'")).delete();
}

declare global {
  var umbralBackground: PgBoss | undefined;
}

/** Begins to do background work in this process; what goes wrong with it is logged and keeps nobody from anything. */
export async function startBackground(): Promise<void> {
  const { DATABASE_URL: connectionString } = process.env;
  if (!connectionString || globalThis.umbralBackground) return;
  const boss = new PgBoss({
    connectionString,
    schema: 'queue',
    migrate: false,
    max: 2,
    application_name: 'umbral work',
  });
  globalThis.umbralBackground = boss;
  boss.on('error', (error) => log.warn({ problem: String(error) }, 'background work'));
  try {
    await boss.start();
    for (const [name, does] of Object.entries(work))
      await boss.work(name, { pollingIntervalSeconds: 60 }, async () => {
        log.info({ work: name, result: await does() }, 'background work done');
      });
  } catch (error) {
    log.warn({ problem: String(error) }, 'no background work in this process');
    globalThis.umbralBackground = undefined;
  }
}

/** How much waits, and how much failed. */
export async function queueNow(): Promise<{ waiting: number; failed: number }> {
  try {
    const { rows } = (await db().raw(
      `SELECT count(*) FILTER (WHERE state IN ('created', 'retry', 'active'))::int AS waiting,
        count(*) FILTER (WHERE state = 'failed')::int AS failed FROM queue.job`,
    )) as { rows: { waiting: number; failed: number }[] };
    return rows[0];
  } catch {
    return { waiting: 0, failed: 0 };
  }
}
