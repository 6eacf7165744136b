'use server';

import * as yup from 'yup';
import { changed } from '@/features/changed';
import { askCustomer, customerSaid, saveTerms, termsInput } from '@/server/day/worth';
import type { Result } from '@/server/errors';

const id = yup.number().integer().positive().required();

/** Fee, promise, and whether it is only the data that is wanted. */
export async function keepTerms(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => saveTerms(termsInput.validateSync(raw)));
}

export async function ask(jobId: unknown): Promise<Result<void>> {
  return changed('technician', () => askCustomer(id.validateSync(jobId)));
}

export async function answered(jobId: unknown, says: 'yes' | 'no'): Promise<Result<void>> {
  return changed('technician', () => customerSaid(id.validateSync(jobId), says === 'yes' ? 'yes' : 'no'));
}
