'use server';

import { changed } from '@/features/changed';
import type { Result } from '@/server/errors';
import { resultFor } from '@/server/people/access';
import { heatInput, keepHeat, readWarm, warmInput } from '@/server/locate';

export async function keepHeatSeen(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => keepHeat(heatInput.validateSync(raw, { abortEarly: false })));
}

export async function readSeenWarm(raw: unknown): Promise<Result<{ last: string | null; says: string }>> {
  return resultFor('technician', () => readWarm(warmInput.validateSync(raw)));
}
