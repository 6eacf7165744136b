import { deviceClasses, feeds } from '@umbral/core';
import { quickLog } from '@/features/quick/read';
import { UnsureLog } from '@/server/analysis/pool';
import { answer, ExpectedError, failure } from '@/server/errors';
import { bodyOf, fileNameOf, refuseForeign } from '@/server/requests';

/** Answers a dropped log at once, without keeping it. */
export async function POST(request: Request): Promise<Response> {
  try {
    refuseForeign(request);
    const query = new URL(request.url).searchParams;
    const feed = feeds.find((f) => f === query.get('feed'));
    const deviceClass = deviceClasses.find((c) => c === query.get('class'));
    if (!feed || !deviceClass)
      throw new ExpectedError('input', `Say the feed (${feeds.join(', ')}) and the kind of device.`);
    const value = await quickLog(bodyOf(request), fileNameOf(request), feed, deviceClass, request.signal);
    return answer({ ok: true, value });
  } catch (error) {
    if (error instanceof UnsureLog) {
      return Response.json(
        { ok: false, kind: 'unsure', message: `${error.message}. Keep it as a job to say so there.` },
        { status: 422 },
      );
    }
    return answer(failure(error));
  }
}
