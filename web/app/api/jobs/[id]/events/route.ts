import { newsStream } from '@/server/presence';
import { idOf } from '@/server/requests';
import { eventAnswer } from '@/server/event-stream';
import { route } from '@/server/route';

export const dynamic = 'force-dynamic';

/** What others do in a job, and who has it open, as it happens. */
export const GET = route<{ id: string }>('present', (request, { id }) =>
  Promise.resolve(eventAnswer(newsStream(idOf(id), request.signal))),
);
