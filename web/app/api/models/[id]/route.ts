import { shippedProfile } from '@umbral/core';

/** The profile as a file, as it can be edited and read back by the command line. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const profile = shippedProfile((await params).id);
  if (!profile) return Response.json({ error: 'There is no such profile.' }, { status: 404 });
  return new Response(`${JSON.stringify(profile, null, 2)}\n`, {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': `attachment; filename="${profile.id}.json"`,
    },
  });
}
