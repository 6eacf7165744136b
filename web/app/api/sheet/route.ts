import { loadBench } from '@/features/day/queries';
import { currentSheet } from '@/server/work/day/sheet';
import { route } from '@/server/edges/route';

/** The bench and its run sheet as they are now, for a page that stays open. */
export const GET = route('technician', async () => {
  const now = new Date();
  const [bench, sheet] = await Promise.all([loadBench(now), currentSheet(now)]);
  return { bench, sheet };
});
