import { hoursProblem, type WorkingHours } from '@umbral/core';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { json, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { id } from '../../record/input.ts';
import { loadPolicy } from '../shop/policy.ts';
import type { OwnHours } from '../../record/tables.ts';

/** Somebody who may work at the bench. */
export interface Worker {
  id: number;
  name: string;
  /** How far they open a device, 0 to 5. */
  maxDepth: number;
  /** Hours of their own; null for those of the shop. */
  hours: OwnHours | null;
}

/** Everybody who works here, as far as the run sheet plans with them. */
export async function loadWorkers(q: Queries): Promise<Worker[]> {
  return (await q('people')
    .whereNull('disabled_at')
    .orderBy('id')
    .select('id', 'name', { maxDepth: 'max_depth' }, 'hours')) as Worker[];
}

export const workerInput = yup.object({
  id,
  maxDepth: yup.number().integer().min(0).max(5).required('Opens devices: choose a depth'),
  /** Seven days, Monday first; seven empty days for somebody who is never at the bench; null for the hours of the shop. */
  week: yup.mixed<WorkingHours['week']>().nullable().default(null),
});

/**
 * How far somebody opens a device, and when they are at the bench.
 *
 * @throws {ExpectedError} for hours that are none, with the day
 */
export async function saveWorker(input: yup.InferType<typeof workerInput>): Promise<void> {
  await transaction(async (q) => {
    const week = input.week ?? null;
    if (week !== null) {
      const { hours } = await loadPolicy(q);
      const problem = Array.isArray(week)
        ? hoursProblem({ ...hours, week })
        : 'Hours: expected seven days, Monday first.';
      if (problem) throw new ExpectedError('input', problem);
    }
    const changed = await q('people')
      .where({ id: input.id })
      .whereNull('disabled_at')
      .update({ max_depth: input.maxDepth, hours: week === null ? null : json({ week }) });
    if (changed === 0) throw missing('This person');
    await addAudit(q, null, 'bench hours changed', { person: input.id, maxDepth: input.maxDepth });
  });
}
