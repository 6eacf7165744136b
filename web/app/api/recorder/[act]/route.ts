import { act } from '@/features/live/acts';
import { ExpectedError } from '@/server/errors';
import { route } from '@/server/route';

/** What a person does at the bench: arm, switch, record, mark, stop. Off is for anybody whose session is there. */
export const POST = route<{ act: string }>('present', async (request, params) => {
  const body: unknown = await request.json().catch(() => {
    throw new ExpectedError('input', 'expected JSON');
  });
  return act(params.act, body);
});
