import { act } from '@/features/live/acts';
import { answer, ExpectedError, failure } from '@/server/errors';
import { refuseForeign } from '@/server/requests';

/** What a person does at the bench: arm, switch, record, mark, stop. */
export async function POST(request: Request, { params }: { params: Promise<{ act: string }> }): Promise<Response> {
  try {
    refuseForeign(request);
    const body: unknown = await request.json().catch(() => {
      throw new ExpectedError('input', 'expected JSON');
    });
    return answer({ ok: true, value: await act((await params).act, body) });
  } catch (error) {
    return answer(failure(error));
  }
}
