import { Readable } from 'node:stream';
import { route } from '@/server/edges/route';
import { notebookCsv } from '@/features/notebook/csv';

/** The notebook as a table for a spreadsheet. */
export const GET = route('technician', async () => {
  return new Response(Readable.toWeb(Readable.from(notebookCsv())) as ReadableStream, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="umbral-notebook.csv"',
    },
  });
});
