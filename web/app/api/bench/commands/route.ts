import { benchOf } from '@/server/edges/benches/benches';
import { commandStream } from '@/server/edges/benches/wire';
import { ExpectedError } from '@/server/record/errors';
import { jobNotices } from '@/server/record/listen';
import { eventAnswer } from '@/server/record/event-stream';
import { route } from '@/server/edges/route';

export const dynamic = 'force-dynamic';

/** What a bench is to do, as it is asked for. */
export const GET = route({ role: 'lead', scope: 'bench' }, async (request, _params, { tokenId }) => {
  if (tokenId === null) throw new ExpectedError('input', 'A bench needs a token.');
  const bench = await benchOf(tokenId, new URL(request.url).searchParams.get('lease') ?? '');
  await jobNotices().ready();
  return eventAnswer(commandStream(bench.id, request.signal));
});
