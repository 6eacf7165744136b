import { eventsOf } from '@/server/edges/recorder/merged-stream';
import { route } from '@/server/edges/route';

export const dynamic = 'force-dynamic';

/** What the instruments do, live. A reader that comes back says the last id it saw and misses nothing. */
export const GET = route('present', (request) => eventsOf(request.headers.get('last-event-id'), request.signal));
