'use server';

import { action, changed } from '@/features/action';
import * as yup from 'yup';
import { askCustomer, customerSaid, saveTerms, termsInput } from '@/server/work/day/worth';
import type { Result } from '@/server/record/errors';

const id = yup.number().integer().positive().required();

/** Fee, promise, and whether it is only the data that is wanted. */
export const keepTerms = action('technician', termsInput, saveTerms);

export const ask = action('technician', id, askCustomer);

export async function answered(jobId: unknown, says: 'yes' | 'no'): Promise<Result<void>> {
  return changed('technician', () => customerSaid(id.validateSync(jobId), says === 'yes' ? 'yes' : 'no'));
}
