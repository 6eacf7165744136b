import { readInput } from '@umbral/core';
import * as yup from 'yup';
import { pictureBytes } from '@/server/work/boards/boards';
import { cutImage } from '@/server/work/boards/cause-cut';
import { idOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

const around = yup.object({ x: yup.number().min(0).max(1).required(), y: yup.number().min(0).max(8).required() });

/**
 * A picture of a board: the copy that is shown at first, `?whole`, or with `?x=…&y=…` the part around a place. Pixels that were painted
 * here, never the file as sent.
 */
export const GET = route<{ id: string }>('technician', async (request, { id }) => {
  const query = new URL(request.url).searchParams;
  const bytes = query.has('x')
    ? await cutOf(idOf(id), Object.fromEntries(query))
    : await pictureBytes(idOf(id), query.has('whole') ? 'image' : 'middle');
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=86400' },
  });
});

function cutOf(id: number, query: object): Promise<Buffer> {
  const { x, y } = readInput(around, query);
  return cutImage(id, [x, y]);
}
