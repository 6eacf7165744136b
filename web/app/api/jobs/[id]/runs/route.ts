import { UnsureLog } from '@/server/analysis/pool';
import { answer, failure } from '@/server/errors';
import { runSetupInput } from '@/server/input';
import { readMapping } from '@/server/mapping';
import { addLogRun } from '@/server/record';
import { bodyOf, fileNameOf, idOf, jsonParam, refuseForeign } from '@/server/requests';

/** Adds a run from a log; the body is the file, the setup a parameter. Answers with the run's name. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  try {
    refuseForeign(request);
    const setup = runSetupInput.validateSync(jsonParam(request, 'setup') ?? {});
    const mapping = readMapping(jsonParam(request, 'mapping'));
    const value = await addLogRun(idOf((await params).id), {
      fileName: fileNameOf(request),
      setup,
      mapping,
      source: bodyOf(request),
      signal: request.signal,
    });
    return answer({ ok: true, value });
  } catch (error) {
    if (error instanceof UnsureLog) {
      const { message, header, sample } = error;
      return Response.json({ ok: false, kind: 'unsure', message, header, sample }, { status: 422 });
    }
    return answer(failure(error));
  }
}
