import { revalidatePath } from 'next/cache';
import { boardFileOf, takeBoardText } from '@/server/work/boards/board-file';
import { bytesOf } from '@/server/work/entries/attachments';
import { db } from '@/server/record/db';
import { missing } from '@/server/record/errors';
import { attachmentHeader, bodyOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

const maxBytes = 64e6;

/** The map of a model as a file: `?model=…`, with `&pictures=yes` its pictures as well. */
export const GET = route('technician', async (request) => {
  const query = new URL(request.url).searchParams;
  const model = query.get('model') ?? '';
  const file = await boardFileOf(db(), model, query.get('pictures') === 'yes');
  if (!file) throw missing('A map of this model');
  return new Response(`${JSON.stringify(file)}\n`, {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': attachmentHeader(`board-${model.replace(/[^\w.-]/g, '_')}.json`),
    },
  });
});

/** Takes a map in; the body is the file. */
export const POST = route(
  'technician',
  async (request) => {
    const content = await bytesOf(bodyOf(request), maxBytes, 'Map');
    const taken = await takeBoardText(content.toString('utf8'), new URL(request.url).searchParams.get('model'));
    revalidatePath('/', 'layout');
    return taken;
  },
  { once: true },
);
