import { loadParts, orderList } from '@/server/work/day/parts';
import { csvOf } from '@/server/record/csv';
import { db } from '@/server/record/db';
import { route } from '@/server/edges/route';

/** What has to be ordered, as a table for a spreadsheet or a supplier. */
export const GET = route('technician', async () => {
  const lines = orderList(await loadParts(db()));
  return new Response(csvOf(lines.map((line) => ({ ...line }))), {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="umbral-order-list.csv"',
    },
  });
});
