import { exportLibrary, importLibrary } from '@/server/work/exchange/exchange';
import { ExpectedError } from '@/server/record/errors';
import { bodyOf, fileNameOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** What was confirmed here, signed, for another shop. */
export const GET = route('lead', async (request) => {
  const query = new URL(request.url).searchParams;
  const [shop, licence] = ['shop', 'licence'].map((key) => (query.get(key) ?? '').trim().slice(0, 500));
  if (shop === '' || shop.length > 120)
    throw new ExpectedError('input', 'Shop: enter the owner of the library, in at most 120 characters.');
  if (licence === '') throw new ExpectedError('input', 'Licence: enter what others may do with it.');
  return new Response(await exportLibrary(shop, licence, query.get('pictures') === 'yes'), {
    headers: {
      'content-type': 'application/x-ndjson; charset=utf-8',
      'content-disposition': 'attachment; filename="umbral-library.ndjson"',
    },
  });
});

/** Takes in a library of another shop; answers with what came of it, or with whose key it is where nobody here knows it. */
export const POST = route(
  'lead',
  (request) =>
    importLibrary(bodyOf(request), fileNameOf(request), new URL(request.url).searchParams.get('trusted') ?? ''),
  { once: true },
);
