import { readInput } from '@umbral/core';
import * as yup from 'yup';
import { loadWindow } from '@/server/work/jobs/chunks';
import { db } from '@/server/record/db';
import { missing } from '@/server/record/errors';
import { idOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';
import type { RunRow } from '@/server/record/rows';

const asked = yup.object({
  from: yup.number().typeError('from: expected seconds').required('from: expected seconds'),
  to: yup
    .number()
    .typeError('to: expected seconds')
    .required('to: expected seconds')
    .moreThan(yup.ref('from'), 'to: expected a time after from'),
});

/** The picture of a stretch of a run, as finely as it is drawn. */
export const GET = route<{ id: string; run: string }>('technician', async (request, { id, run }) => {
  const query = new URL(request.url).searchParams;
  const { from, to } = readInput(asked, { from: query.get('from') ?? '', to: query.get('to') ?? '' });
  const row = await db()<RunRow>('runs')
    .where({ job_id: idOf(id), run_key: run })
    .whereNull('deleted_at')
    .first('id', 'instrument', 'summary', 'preview', 'samples_dropped_at');
  if (!row) throw missing('This run');
  return loadWindow(db(), row, from, to);
});
