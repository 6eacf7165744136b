import { answer, failure } from '@/server/errors';
import { eventsOf } from '@/server/recorder';

export const dynamic = 'force-dynamic';

/** What the instruments do, live. A reader that comes back says the last id it saw and misses nothing. */
export async function GET(request: Request): Promise<Response> {
  try {
    return await eventsOf(request.headers.get('last-event-id'), request.signal);
  } catch (error) {
    if (request.signal.aborted) return new Response(null, { status: 499 });
    return answer(failure(error));
  }
}
