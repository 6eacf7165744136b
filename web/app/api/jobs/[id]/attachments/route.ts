import { revalidatePath } from 'next/cache';
import { attach, attachmentInput } from '@/server/attachments';
import { answer, resultOf } from '@/server/errors';
import { bodyOf, idOf, refuseForeign } from '@/server/requests';

/** Keeps a picture; the body is the file. Answers with its number. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return answer(
    await resultOf(async () => {
      refuseForeign(request);
      const query = new URL(request.url).searchParams;
      const input = attachmentInput.validateSync({
        jobId: idOf((await params).id),
        of: query.get('of') ?? 'job',
        caption: query.get('caption') ?? '',
      });
      const made = await attach(input, bodyOf(request));
      revalidatePath('/', 'layout');
      return made;
    }),
  );
}
