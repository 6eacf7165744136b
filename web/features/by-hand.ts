import type { ValidateOptions } from 'yup';
import { refuseInvented } from '@/server/work/practice/bench';
import { action } from './action';

/** A server action that enters what a person says was seen. Of a practice unit nobody says it: its bench does. */
export const byHand = <Input extends { jobId: number }, T>(
  schema: { validateSync(raw: unknown, options: ValidateOptions): Input },
  work: (input: Input) => T | Promise<T>,
) =>
  action('technician', schema, async (input) => {
    await refuseInvented(input.jobId);
    return work(input);
  });
