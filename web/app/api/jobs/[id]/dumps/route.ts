import { revalidatePath } from 'next/cache';
import { db } from '@/server/record/db';
import { dumpsOf, judgeDumps, saveDump } from '@/server/work/entries/dumps';
import { bodyOf, fileNameOf, idOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';
import { withUpload } from '@/server/record/upload';

/** Keeps what was read out of a chip; answers with its hash and whether it may be overwritten now. */
export const POST = route<{ id: string }>(
  'technician',
  async (request, { id }) => {
    const jobId = idOf(id);
    const name = fileNameOf(request);
    const dump = await withUpload(bodyOf(request), name, (file) => saveDump(jobId, name, file.read()));
    revalidatePath('/', 'layout');
    return { dump, verdict: judgeDumps(await dumpsOf(db(), jobId)) };
  },
  { once: true },
);
