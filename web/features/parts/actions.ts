'use server';

import { action, changed } from '@/features/action';
import * as yup from 'yup';
import { addDonor, donorInput, removeDonorPart } from '@/server/work/day/donors';
import {
  cancelOrder,
  countPart,
  orderArrived,
  orderPart,
  reservePart,
  returnPart,
  savePart,
  takePart,
} from '@/server/work/day/parts';
import { countInput, orderPartInput, partInput, takePartInput } from '@/server/work/day/parts-input';
import type { Result } from '@/server/record/errors';

const id = yup.number().integer().positive().required();

export const keepPart = action('technician', partInput, savePart);

export const counted = action('technician', countInput, countPart);

export const order = action('technician', orderPartInput, orderPart);

export const arrived = action('technician', id, orderArrived);

/** An order will not come. */
export const cancelled = action('technician', id, cancelOrder);

export async function reserve(partId: unknown, jobId: unknown, amount: number): Promise<Result<void>> {
  return changed('technician', () =>
    reservePart(
      id.validateSync(partId),
      id.validateSync(jobId),
      yup.number().integer().min(0).max(1000).required().validateSync(amount),
    ),
  );
}

/** What is asked before it is taken; nothing where it was taken. */
export const takeFromShelf = action('technician', takePartInput, takePart);

export async function putBack(partId: unknown, jobId: unknown): Promise<Result<void>> {
  return changed('technician', () => returnPart(id.validateSync(partId), id.validateSync(jobId)));
}

export const keepDonor = action('technician', donorInput, addDonor);

export async function takeOffDonor(donorPartId: unknown, jobId: unknown): Promise<Result<void>> {
  return changed('technician', () => removeDonorPart(id.validateSync(donorPartId), id.validateSync(jobId)));
}
