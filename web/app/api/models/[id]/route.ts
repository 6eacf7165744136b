import { db } from '@/server/db';
import { findProfile } from '@/server/profiles';

/** The profile as a file, in its latest version or the one that is asked for, as it can be edited and read back. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const asked = new URL(request.url).searchParams.get('version');
  const version = asked !== null && /^\d{1,6}$/.test(asked) ? Number(asked) : null;
  const known = await findProfile(db(), (await params).id, version);
  if (!known) return Response.json({ error: 'There is no such profile.' }, { status: 404 });
  return new Response(`${JSON.stringify(known.profile, null, 2)}\n`, {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': `attachment; filename="${known.profile.id.replace(/[^\w.-]/g, '_')}.json"`,
    },
  });
}
