import { calendarFile } from '@/server/work/day/day-end';
import { route } from '@/server/edges/route';

/** Promises, due dates and waits, for a calendar. */
export const GET = route('technician', async () => {
  return new Response(await calendarFile(), {
    headers: {
      'content-type': 'text/calendar; charset=utf-8',
      'content-disposition': 'attachment; filename="umbral-bench.ics"',
    },
  });
});
