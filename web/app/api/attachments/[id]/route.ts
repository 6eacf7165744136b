import { pictureOf } from '@/server/work/entries/attachments';
import { idOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** A picture; `?small` for its thumb. What the browser gets are pixels that were painted here, never the file as sent. */
export const GET = route<{ id: string }>('technician', async (request, { id }) => {
  const small = new URL(request.url).searchParams.has('small');
  const bytes = await pictureOf(idOf(id), small);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=86400' },
  });
});
