'use server';

import { changed } from '@/features/changed';
import type { Result } from '@/server/errors';
import { takeReading, type Taken } from '@/server/measure';
import { measureInput } from '@/server/measure-input';

export async function takeTyped(raw: unknown): Promise<Result<Taken>> {
  return changed('technician', () => takeReading(measureInput.validateSync(raw, { abortEarly: false })));
}
