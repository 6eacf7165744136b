import { newsStream } from '@/server/presence';
import { idOf } from '@/server/requests';
import { route } from '@/server/route';

export const dynamic = 'force-dynamic';

/** What others do in a job, and who has it open, as it happens. */
export const GET = route<{ id: string }>('present', (request, { id }) =>
  Promise.resolve(
    new Response(newsStream(idOf(id), request.signal), {
      headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' },
    }),
  ),
);
