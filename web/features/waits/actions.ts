'use server';

import { action, changed } from '@/features/action';
import * as yup from 'yup';
import { db } from '@/server/record/db';
import { acknowledgeWait, addWait, usualWaits, waitInput, waitOver as endWaits } from '@/server/work/entries/waits';
import type { Result } from '@/server/record/errors';
import { resultFor } from '@/server/work/people/access';
import type { WaitKind } from '@umbral/core/words';

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
