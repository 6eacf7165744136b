import { Readable } from 'node:stream';
import { jobsCsv } from '@/server/work/day/day-end';
import { route } from '@/server/edges/route';

/** Every job as a table for a spreadsheet. */
export const GET = route('technician', async () => {
  return new Response(Readable.toWeb(Readable.from(jobsCsv())) as ReadableStream, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="umbral-jobs.csv"',
    },
  });
});
