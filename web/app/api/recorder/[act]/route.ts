import { act } from '@/features/live/acts';
import { jsonOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** What a person does at the bench: arm, switch, record, mark, stop. Off is for anybody whose session is there. */
export const POST = route<{ act: string }>('present', async (request, params) => {
  const body = await jsonOf(request);
  return act(params.act, body);
});
