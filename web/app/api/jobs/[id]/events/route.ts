import { newsStream } from '@/server/shop/presence';
import { idOf } from '@/server/platform/requests';
import { eventAnswer } from '@/server/platform/event-stream';
import { route } from '@/server/platform/route';

export const dynamic = 'force-dynamic';

/** What others do in a job, and who has it open, as it happens. */
export const GET = route<{ id: string }>('present', (request, { id }) =>
  Promise.resolve(eventAnswer(newsStream(idOf(id), request.signal))),
);
