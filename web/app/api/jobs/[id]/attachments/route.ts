import { readInput } from '@umbral/core';
import { revalidatePath } from 'next/cache';
import { attachPicture, attachmentInput } from '@/server/work/entries/attachments';
import { bodyOf, idOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';
import { withUpload } from '@/server/record/upload';

/** Keeps a picture; the body is the file. Answers with its number. */
export const POST = route<{ id: string }>(
  'technician',
  async (request, { id }) => {
    const query = new URL(request.url).searchParams;
    const input = readInput(attachmentInput, {
      jobId: idOf(id),
      of: query.get('of') ?? 'job',
      caption: query.get('caption') ?? '',
    });
    const made = await withUpload(bodyOf(request), 'the picture', (file) => attachPicture(input, file.read()));
    revalidatePath('/', 'layout');
    return made;
  },
  { once: true },
);
