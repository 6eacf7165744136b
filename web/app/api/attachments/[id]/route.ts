import { pictureOf } from '@/server/jobs/attachments';
import { idOf } from '@/server/platform/requests';
import { route } from '@/server/platform/route';

/** A picture; `?small` for its thumb. What the browser gets are pixels that were painted here, never the file as sent. */
export const GET = route<{ id: string }>('technician', async (request, { id }) => {
  const small = new URL(request.url).searchParams.has('small');
  const bytes = await pictureOf(idOf(id), small);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=86400' },
  });
});
