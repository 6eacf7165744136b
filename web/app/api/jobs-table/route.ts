import { jobsCsv } from '@/server/day/day-end';
import { route } from '@/server/route';

/** Every job as a table for a spreadsheet. */
export const GET = route('technician', async () => {
  return new Response(await jobsCsv(), {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="umbral-jobs.csv"',
    },
  });
});
