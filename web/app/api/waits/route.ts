import { db } from '@/server/record/db';
import { runningWaits } from '@/server/work/entries/waits';
import { route } from '@/server/edges/route';

/** What runs out next, with the clock of the server: that of a screen may be wrong. */
export const GET = route('technician', async () => ({
  now: new Date().toISOString(),
  waits: await runningWaits(db()),
}));
