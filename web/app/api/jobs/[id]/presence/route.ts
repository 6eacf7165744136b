import { readInput } from '@umbral/core';
import { presenceInput, saySelf } from '@/server/work/people/presence';
import { idOf, jsonOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** Says that somebody has the job open, and which field they are in. */
export const POST = route<{ id: string }>('present', async (request, { id }, { person }) => {
  const body = await jsonOf(request);
  await saySelf(idOf(id), person, readInput(presenceInput, body));
  return null;
});
