import { db } from '@/server/record/db';
import { missing } from '@/server/record/errors';
import { findProfile } from '@/server/work/shop/profiles';
import { attachmentHeader } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** The profile as a file, in its latest version or the one that is asked for, as it can be edited and read back. */
export const GET = route<{ id: string }>('technician', async (request, { id }) => {
  const asked = new URL(request.url).searchParams.get('version');
  const version = asked !== null && /^\d{1,6}$/.test(asked) ? Number(asked) : null;
  const known = await findProfile(db(), id, version);
  if (!known) throw missing('This profile');
  return new Response(`${JSON.stringify(known.profile, null, 2)}\n`, {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': attachmentHeader(`${known.profile.id.replace(/[^\w.-]/g, '_')}.json`),
    },
  });
});
