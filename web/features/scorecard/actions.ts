'use server';

import { action, question, changed } from '@/features/action';
import { scorecardGroups } from '@umbral/core';
import * as yup from 'yup';
import { addAudit } from '@/server/record/audit';
import { transaction } from '@/server/record/db';
import type { Result } from '@/server/record/errors';
import { beginReplay, cancelReplay, runReplay } from '@/server/work/library/replay';
import { handOver } from '@/server/record/queue';
import { callLines } from './queries';

const askedInput = yup.object({
  counted: yup.string().max(100).required(),
  group: yup
    .object({ by: yup.string().oneOf(scorecardGroups).required(), key: yup.string().max(200).defined() })
    .nullable()
    .default(null),
  // Number of the last job that is listed already.
  after: yup.number().integer().positive().nullable().default(null),
});

/** The calls behind a figure, some at a time. */
export const listCalls = question('technician', askedInput, callLines);

/** Lets the shop's own cases correct the percentages, or not. */
export const setRecalibration = action('lead', yup.boolean().strict().required(), async (wanted) => {
  await transaction(async (q) => {
    await q('library_state').where({ id: 1 }).update({ recalibrate: wanted });
    await addAudit(q, null, `percentages: ${wanted ? 'adjusted by past results' : 'as computed by the engine'}`);
  });
});

/** Makes all frozen calls again with the engine that runs now, in the background. */
export async function startReplay(): Promise<Result<number>> {
  return changed('lead', async () => {
    const id = await beginReplay();
    void handOver('replay', { id }, () => runReplay(id));
    return id;
  });
}

export const stopReplay = action('lead', yup.number().integer().positive().required(), cancelReplay);
