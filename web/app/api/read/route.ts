import { deviceClasses, feeds } from '@umbral/core';
import { quickLog } from '@/features/quick/read';
import { UnsureLog } from '@/server/analysis/pool';
import { ExpectedError } from '@/server/record/errors';
import { bodyOf, fileNameOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';
import { withUpload } from '@/server/record/upload';

/** Answers a dropped log at once, without keeping it. */
export const POST = route('technician', async (request) => {
  const query = new URL(request.url).searchParams;
  const feed = feeds.find((f) => f === query.get('feed'));
  const deviceClass = deviceClasses.find((c) => c === query.get('class'));
  if (!feed || !deviceClass)
    throw new ExpectedError('input', `Enter the feed (${feeds.join(', ')}) and the kind of device.`);
  const name = fileNameOf(request);
  try {
    return await withUpload(bodyOf(request), name, (file) =>
      quickLog(file.read(), name, feed, deviceClass, request.signal),
    );
  } catch (error) {
    if (!(error instanceof UnsureLog)) throw error;
    const message = `${error.message}. Save it as a job to correct that.`;
    return Response.json({ ok: false, kind: 'unsure', message }, { status: 422 });
  }
});
