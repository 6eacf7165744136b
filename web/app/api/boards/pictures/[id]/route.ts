import { pictureBytes } from '@/server/boards/boards';
import { idOf } from '@/server/platform/requests';
import { route } from '@/server/platform/route';

/** A picture of a board: the copy that is shown at first, or `?whole`. Pixels that were painted here, never the file as sent. */
export const GET = route<{ id: string }>('technician', async (request, { id }) => {
  const size = new URL(request.url).searchParams.has('whole') ? 'image' : 'middle';
  const bytes = await pictureBytes(idOf(id), size);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=86400' },
  });
});
