import { readInput } from '@umbral/core';
import { revalidatePath } from 'next/cache';
import { addPicture } from '@/server/work/boards/boards';
import { pictureInput } from '@/server/record/board-input';
import { bodyOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';
import { withUpload } from '@/server/record/upload';

/** Keeps a picture of a board; the body is the file. Answers with its number and that of its side. */
export const POST = route(
  'technician',
  async (request) => {
    const input = readInput(pictureInput, Object.fromEntries(new URL(request.url).searchParams));
    const made = await withUpload(bodyOf(request), 'the picture', (file) => addPicture(input, file.read()));
    revalidatePath('/', 'layout');
    return made;
  },
  { once: true },
);
