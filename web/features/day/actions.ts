'use server';

import { action, question, changed } from '@/features/action';
import * as yup from 'yup';
import { db } from '@/server/record/db';
import { orderInput, pinJobs, snoozeInput, snoozeJob } from '@/server/work/day/marks';
import { costOfOrder } from '@/server/work/day/sheet';
import { putDown, takeInput, takeJob } from '@/server/work/day/takes';
import { acknowledgeWait, addWait, usualWaits, waitInput, waitOver as endWaits } from '@/server/work/entries/waits';
import type { Result } from '@/server/record/errors';
import { forActor, resultFor } from '@/server/work/people/access';
import type { WaitKind, WorkKind } from '@umbral/core/words';

const id = yup.number().integer().positive().required();

/** Lets a job wait. */
export const setWait = action('technician', waitInput, addWait);

/** Everything that a job waits for is over, or one wait of it. */
export async function waitOver(jobId: unknown, waitId?: unknown): Promise<Result<void>> {
  return changed('technician', () =>
    endWaits(id.validateSync(jobId), waitId === undefined ? undefined : id.validateSync(waitId)),
  );
}

/** Its alarm was heard. */
export const heard = action('technician', id, acknowledgeWait);

/** Minutes that waits usually take here. */
export async function loadUsualWaits(): Promise<Result<Record<WaitKind, number>>> {
  return resultFor('technician', () => usualWaits(db()));
}

/** Jobs that stand first, in their order. */
export const pin = action('technician', orderInput, ({ jobs }) => pinJobs(jobs));

/** What an order would cost, before it is kept. */
export const priceOf = question('technician', orderInput, ({ jobs }) => costOfOrder(db(), new Date(), jobs));

export const snooze = action('technician', snoozeInput, ({ jobId, until }) => snoozeJob(jobId, until));

/** Takes a job in hand. */
export const take = action('technician', takeInput, ({ jobId, kind }) =>
  forActor('technician', ({ person }) => takeJob(jobId, person, kind as WorkKind)),
);

export const putJobDown = action('technician', id, putDown);
