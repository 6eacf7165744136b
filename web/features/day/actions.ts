'use server';

import { action, question } from '@/features/action';
import * as yup from 'yup';
import { db } from '@/server/record/db';
import { orderInput, pinJobs, snoozeInput, snoozeJob } from '@/server/work/day/marks';
import { costOfOrder } from '@/server/work/day/sheet';
import { putDown, takeInput, takeJob } from '@/server/work/day/takes';
import { forActor } from '@/server/work/people/access';
import type { WorkKind } from '@umbral/core/words';

const id = yup.number().integer().positive().required();

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
