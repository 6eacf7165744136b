import { readInput } from '@umbral/core';
import * as yup from 'yup';
import { loadWindow } from '@/server/jobs/chunks';
import { db } from '@/server/platform/db';
import { missing } from '@/server/platform/errors';
import { idOf } from '@/server/platform/requests';
import { route } from '@/server/platform/route';
import type { RunRow } from '@/server/rows';

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
