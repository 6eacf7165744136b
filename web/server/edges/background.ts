import PgBoss from 'pg-boss';
import { db } from '../record/db.ts';
import { log } from '../record/errors.ts';
import { countMissing } from '../work/library/calls.ts';
import { correctBehind } from '../work/library/correction.ts';
import { runReplay } from '../work/library/replay.ts';
import '../record/queue.ts';
import { emptyTrash, applyRetention } from '../work/entries/trash.ts';

/** Work that nobody waits for. Its queues are made with the schema; whichever process is free does it, once. */
const work: Record<string, { does: (data: { id?: number }) => Promise<unknown>; lookEveryS: number }> = {
  'empty-trash': { does: emptyTrash, lookEveryS: 60 },
  retention: { does: applyRetention, lookEveryS: 60 },
  'forget-sessions': { does: forgetSessions, lookEveryS: 60 },
  // A record from before calls were counted, or one that was brought back from then.
  'count-calls': { does: () => countMissing(db()), lookEveryS: 60 },
  correct: { does: correctBehind, lookEveryS: 10 },
  // Somebody sits before it and waits.
  replay: { does: ({ id }) => runReplay(id ?? 0), lookEveryS: 2 },
};

/** Takes out what is over: sessions, codes, and who was in which job. */
async function forgetSessions(): Promise<void> {
  const q = db();
  await q('sessions').where('expires_at', '<', q.fn.now()).delete();
  await q('sign_in_codes').where('expires_at', '<', q.raw("now() - interval '1 day'")).delete();
  await q('sign_in_tries').where('tried_at', '<', q.raw("now() - interval '2 days'")).delete();
  await q('known_screens').where('seen_at', '<', q.raw("now() - interval '400 days'")).delete();
  await q('requests').where('asked_at', '<', q.raw("now() - interval '1 day'")).delete();
  await q('presence').where('seen_at', '<', q.raw("now() - interval '1 hour'")).delete();
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
    for (const [name, { does, lookEveryS }] of Object.entries(work))
      await boss.work<{ id?: number } | null>(name, { pollingIntervalSeconds: lookEveryS }, async (jobs) => {
        for (const { data } of jobs) log.info({ work: name, result: await does(data ?? {}) }, 'background work done');
      });
    await boss.send('count-calls', {}, { singletonKey: 'count-calls' });
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
