'use server';

import * as yup from 'yup';
import { changed } from '@/features/changed';
import { db } from '@/server/db';
import { orderInput, pinJobs, snoozeInput, snoozeJob } from '@/server/day/marks';
import { costOfOrder } from '@/server/day/sheet';
import { putDown, takeInput, takeJob } from '@/server/day/takes';
import { hearWait, letWait, usualWaits, waitInput, waitOver as endWaits } from '@/server/day/waits';
import type { Result } from '@/server/errors';
import { forActor, resultFor } from '@/server/people/access';
import type { WaitKind, WorkKind } from '@umbral/core/words';

const id = yup.number().integer().positive().required();

/** Lets a job wait. */
export async function setWait(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => letWait(waitInput.validateSync(raw)));
}

/** Everything that a job waits for is over, or one wait of it. */
export async function waitOver(jobId: unknown, waitId?: unknown): Promise<Result<void>> {
  return changed('technician', () =>
    endWaits(id.validateSync(jobId), waitId === undefined ? undefined : id.validateSync(waitId)),
  );
}

/** Its alarm was heard. */
export async function heard(waitId: unknown): Promise<Result<void>> {
  return changed('technician', () => hearWait(id.validateSync(waitId)));
}

/** Minutes that waits usually take here. */
export async function loadUsualWaits(): Promise<Result<Record<WaitKind, number>>> {
  return resultFor('technician', () => usualWaits(db()));
}

/** Jobs that stand first, in their order. */
export async function pin(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => pinJobs(orderInput.validateSync(raw).jobs));
}

/** What an order would cost, before it is kept. */
export async function priceOf(raw: unknown): Promise<Result<{ says: string; cost: number; late: number }>> {
  return resultFor('technician', () => costOfOrder(db(), new Date(), orderInput.validateSync(raw).jobs));
}

export async function snooze(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const { jobId, until } = snoozeInput.validateSync(raw);
    return snoozeJob(jobId, until);
  });
}

/** Takes a job in hand. */
export async function take(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const { jobId, kind } = takeInput.validateSync(raw);
    return forActor('technician', ({ person }) => takeJob(jobId, person, kind as WorkKind));
  });
}

export async function putJobDown(jobId: unknown): Promise<Result<void>> {
  return changed('technician', () => putDown(id.validateSync(jobId)));
}
