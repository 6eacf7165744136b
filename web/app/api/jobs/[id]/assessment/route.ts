import { db } from '@/server/record/db';
import { latestAssessment, loadContent } from '@/server/work/jobs/jobs';
import { idOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** The latest verdict of a job, with all that the job's page is made from; null where there is none yet. */
export const GET = route<{ id: string }>({ role: 'technician', scope: 'packages:read' }, async (_request, params) => {
  const id = idOf(params.id);
  await loadContent(db(), id);
  return (await latestAssessment(db(), id))?.result ?? null;
});
