import { dumpContent } from '@/server/work/entries/dumps';
import { attachmentHeader, idOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** A dump as it was read out, as a download. */
export const GET = route<{ id: string; dump: string }>('technician', async (_request, { id, dump }) => {
  const { name, content } = await dumpContent(idOf(id), idOf(dump));
  return new Response(new Uint8Array(content), {
    headers: { 'content-type': 'application/octet-stream', 'content-disposition': attachmentHeader(name) },
  });
});
