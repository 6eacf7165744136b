import { newsStream } from '@/server/work/people/presence';
import { idOf } from '@/server/record/requests';
import { eventAnswer } from '@/server/record/event-stream';
import { route } from '@/server/edges/route';

export const dynamic = 'force-dynamic';

/** What others do in a job, and who has it open, as it happens. */
export const GET = route<{ id: string }>('present', (request, { id }) =>
  Promise.resolve(eventAnswer(newsStream(idOf(id), request.signal))),
);
