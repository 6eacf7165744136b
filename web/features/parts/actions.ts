'use server';

import * as yup from 'yup';
import { changed } from '@/features/changed';
import { addDonor, donorInput, takeDonorPart } from '@/server/day/donors';
import { countPart, orderArrived, orderPart, reservePart, returnPart, savePart, takePart } from '@/server/day/parts';
import { countInput, orderPartInput, partInput, takePartInput } from '@/server/day/parts-input';
import type { Result } from '@/server/errors';

const id = yup.number().integer().positive().required();

export async function keepPart(raw: unknown): Promise<Result<number>> {
  return changed('technician', () => savePart(partInput.validateSync(raw)));
}

export async function counted(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => countPart(countInput.validateSync(raw)));
}

export async function order(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => orderPart(orderPartInput.validateSync(raw)));
}

export async function arrived(orderId: unknown): Promise<Result<void>> {
  return changed('technician', () => orderArrived(id.validateSync(orderId)));
}

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
export async function takeFromShelf(raw: unknown): Promise<Result<string[]>> {
  return changed('technician', () => takePart(takePartInput.validateSync(raw)));
}

export async function putBack(partId: unknown, jobId: unknown): Promise<Result<void>> {
  return changed('technician', () => returnPart(id.validateSync(partId), id.validateSync(jobId)));
}

export async function keepDonor(raw: unknown): Promise<Result<number>> {
  return changed('technician', () => addDonor(donorInput.validateSync(raw)));
}

export async function takeOffDonor(donorPartId: unknown, jobId: unknown): Promise<Result<void>> {
  return changed('technician', () => takeDonorPart(id.validateSync(donorPartId), id.validateSync(jobId)));
}
