import { db } from '@/server/platform/db';
import { partsNow } from '@/server/shop/health';

export const dynamic = 'force-dynamic';

/** Whether the database answers, in words for whoever waits. Nothing else is said here: anybody may ask. */
export async function GET(): Promise<Response> {
  try {
    await db().raw('SELECT 1');
    return Response.json({ ok: true, database: true, words: 'The database is available. Try again.' });
  } catch {
    const part = partsNow()?.parts.database;
    const words = part
      ? 'The database is not available. It is restarting.'
      : 'The database is not available. Its operator must start it.';
    return Response.json({ ok: false, database: false, words }, { status: 503 });
  }
}
