import { db } from '@/server/platform/db';
import { runningWaits } from '@/server/day/waits';
import { route } from '@/server/platform/route';

/** What runs out next, with the clock of the server: that of a screen may be wrong. */
export const GET = route('technician', async () => ({
  now: new Date().toISOString(),
  waits: await runningWaits(db()),
}));
