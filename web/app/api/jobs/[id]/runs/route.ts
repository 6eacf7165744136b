import { readInput } from '@umbral/core';
import { UnsureLog } from '@/server/analysis/pool';
import { runSetupInput } from '@/server/record/input';
import { refuseInvented } from '@/server/work/practice/bench';
import { readMapping } from '@/server/work/entries/mapping';
import { addLogRun } from '@/server/work/entries/record';
import { bodyOf, fileNameOf, idOf, jsonParam } from '@/server/record/requests';
import { route } from '@/server/edges/route';
import { withUpload } from '@/server/record/upload';

/** Adds a run from a log; the body is the file, the setup a parameter. Answers with the run's name. */
export const POST = route<{ id: string }>(
  'technician',
  async (request, { id }) => {
    const jobId = idOf(id);
    await refuseInvented(jobId);
    const setup = readInput(runSetupInput, jsonParam(request, 'setup') ?? {});
    const mapping = readMapping(jsonParam(request, 'mapping'));
    const fileName = fileNameOf(request);
    try {
      return await withUpload(bodyOf(request), fileName, (file) =>
        addLogRun(jobId, {
          fileName,
          setup,
          mapping,
          source: file.read(),
          signal: request.signal,
          isConfirmed: jsonParam(request, 'confirmed') === true,
        }),
      );
    } catch (error) {
      if (!(error instanceof UnsureLog)) throw error;
      const { message, header, sample } = error;
      return Response.json({ ok: false, kind: 'unsure', message, header, sample }, { status: 422 });
    }
  },
  { once: true },
);
