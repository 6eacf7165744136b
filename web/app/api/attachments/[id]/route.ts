import { pictureOf } from '@/server/attachments';
import { answer, failure } from '@/server/errors';
import { idOf } from '@/server/requests';

/** A picture; `?small` for its thumb. What the browser gets are pixels that were painted here, never the file as sent. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  try {
    const small = new URL(request.url).searchParams.has('small');
    const bytes = await pictureOf(idOf((await params).id), small);
    return new Response(new Uint8Array(bytes), {
      headers: {
        'content-type': 'image/jpeg',
        'cache-control': 'private, max-age=86400',
        'x-content-type-options': 'nosniff',
        'content-security-policy': "default-src 'none'",
      },
    });
  } catch (error) {
    return answer(failure(error));
  }
}
