import { monitorEventLoopDelay } from 'node:perf_hooks';
import { db } from '@/server/record/db';
import { partsNow } from '@/server/edges/health';

export const dynamic = 'force-dynamic';

/** While the application is attacked on purpose: how long nobody was served since this was asked last, ms. */
const delay = process.env.UMBRAL_FUZZ === 'yes' ? monitorEventLoopDelay({ resolution: 10 }) : null;
delay?.enable();
function stalled(): { stallMs?: number } {
  if (!delay) return {};
  const stallMs = Math.max(0, Math.round(delay.max / 1e6) - 10);
  delay.reset();
  return { stallMs };
}

/** Whether the database answers, in words for whoever waits. Nothing else is said here: anybody may ask. */
export async function GET(): Promise<Response> {
  try {
    await db().raw('SELECT 1');
    return Response.json({ ok: true, database: true, words: 'The database is available. Try again.', ...stalled() });
  } catch {
    const part = partsNow()?.parts.database;
    const words = part
      ? 'The database is not available. It is restarting.'
      : 'The database is not available. Its operator must start it.';
    return Response.json({ ok: false, database: false, words }, { status: 503 });
  }
}
