import { db } from '@/server/db';
import { answer, failure, resultOf } from '@/server/errors';
import { latestAssessment, loadContent } from '@/server/jobs';
import { idOf } from '@/server/requests';

/** The latest verdict of a job, with all that the job's page is made from; null where there is none yet. */
export async function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  try {
    const id = idOf((await params).id);
    return answer(
      await resultOf(async () => {
        await loadContent(db(), id);
        return (await latestAssessment(db(), id))?.result ?? null;
      }),
    );
  } catch (error) {
    return answer(failure(error));
  }
}
