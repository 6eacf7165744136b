import { revalidatePath } from 'next/cache';
import { db } from '@/server/db';
import { dumpsOf, judgeDumps, keepDump } from '@/server/dumps';
import { answer, resultOf } from '@/server/errors';
import { bodyOf, fileNameOf, idOf, refuseForeign } from '@/server/requests';

/** Keeps what was read out of a chip; answers with its hash and whether it may be overwritten now. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return answer(
    await resultOf(async () => {
      refuseForeign(request);
      const jobId = idOf((await params).id);
      const dump = await keepDump(jobId, fileNameOf(request), bodyOf(request));
      revalidatePath('/', 'layout');
      return { dump, verdict: judgeDumps(await dumpsOf(db(), jobId)) };
    }),
  );
}
