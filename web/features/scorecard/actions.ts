'use server';

import * as yup from 'yup';
import { changed } from '@/features/changed';
import { audit } from '@/server/audit';
import { handOver } from '@/server/background';
import { transaction } from '@/server/db';
import type { Result } from '@/server/errors';
import { beginReplay, cancelReplay } from '@/server/library/replay';
import { resultFor } from '@/server/people/access';
import { callLines, type CallLine } from './queries';

const jobsInput = yup.array().of(yup.number().integer().positive().required()).max(20_000).required();

/** The calls behind a figure. */
export async function listCalls(jobs: unknown): Promise<Result<CallLine[]>> {
  return resultFor('technician', () => callLines(jobsInput.validateSync(jobs)));
}

/** Lets the shop's own cases correct the percentages, or not. */
export async function setRecalibration(isOn: unknown): Promise<Result<void>> {
  return changed('lead', async () => {
    const wanted = yup.boolean().strict().required().validateSync(isOn);
    await transaction(async (q) => {
      await q('library_state').where({ id: 1 }).update({ recalibrate: wanted });
      await audit(q, null, `percentages: ${wanted ? 'corrected by own cases' : 'as the engine says them'}`);
    });
  });
}

/** Makes all frozen calls again with the engine that runs now, in the background. */
export async function startReplay(): Promise<Result<number>> {
  return changed('lead', async () => {
    const id = await beginReplay();
    void handOver('replay', id);
    return id;
  });
}

export async function stopReplay(id: unknown): Promise<Result<void>> {
  return changed('lead', () => cancelReplay(yup.number().integer().positive().required().validateSync(id)));
}
