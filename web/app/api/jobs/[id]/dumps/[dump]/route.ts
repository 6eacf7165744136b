import { dumpContent } from '@/server/dumps';
import { answer, failure } from '@/server/errors';
import { idOf } from '@/server/requests';

/** A dump as it was read out, as a download. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string; dump: string }> },
): Promise<Response> {
  try {
    const { id, dump } = await params;
    const { name, content } = await dumpContent(idOf(id), idOf(dump));
    return new Response(new Uint8Array(content), {
      headers: {
        'content-type': 'application/octet-stream',
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
        'x-content-type-options': 'nosniff',
      },
    });
  } catch (error) {
    return answer(failure(error));
  }
}
