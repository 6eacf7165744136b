'use server';

import { question } from '@/features/action';
import { deviceClasses } from '@umbral/core';
import { revalidatePath } from 'next/cache';
import * as yup from 'yup';
import type { Result } from '@/server/record/errors';
import { resultFor } from '@/server/work/people/access';
import { jobInput } from '@/server/record/input';
import { addTypedRun } from '@/server/work/entries/record';
import { createJob, setTrashed } from '@/server/work/entries/job-edits';
import { quickTyped } from './read';

const quickInput = yup.object({
  line: yup.string().max(2000, 'The line is longer than 2,000 characters').required('Type what the display shows'),
  deviceClass: yup.string().oneOf(deviceClasses).required(),
});

export const quickRead = question('technician', quickInput, ({ line, deviceClass }) => quickTyped(line, deviceClass));

/** Keeps a quick read as a job: the line becomes its first run. */
export const keepTyped = question('technician', quickInput, async ({ line, deviceClass }) => {
  await quickTyped(line, deviceClass);
  const jobId = await createJob(jobInput.validateSync({ label: 'From a quick read', deviceClass, intake: {} }));
  try {
    // What is odd about it stands in the answer that it is kept from.
    await addTypedRun(jobId, line, null, true);
  } catch (error) {
    await setTrashed(jobId, true);
    throw error;
  }
  revalidatePath('/', 'layout');
  return jobId;
});

/** An empty job for a dropped log that is to be kept; the log follows as its first run. */
export async function newJobForLog(deviceClass: unknown, name: unknown): Promise<Result<number>> {
  return resultFor('technician', async () => {
    const label = typeof name === 'string' && name.trim() !== '' ? `From ${name.trim().slice(0, 150)}` : 'From a log';
    const jobId = await createJob(jobInput.validateSync({ label, deviceClass, intake: {} }));
    revalidatePath('/', 'layout');
    return jobId;
  });
}
