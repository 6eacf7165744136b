import { exportEverything } from '@/server/work/exchange/export';
import { attachmentHeader } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** Everything that is kept here, in open formats, as one zip. */
export const GET = route('lead', async () => {
  const name = `umbral-everything-${new Date().toISOString().slice(0, 10)}.zip`;
  return new Response(await exportEverything(), {
    headers: { 'content-type': 'application/zip', 'content-disposition': attachmentHeader(name) },
  });
});
