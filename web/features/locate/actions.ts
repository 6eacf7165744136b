'use server';

import { changed } from '@/features/changed';
import { resultOf, type Result } from '@/server/errors';
import { heatInput, keepHeat, readWarm, warmInput } from '@/server/locate';

export async function keepHeatSeen(raw: unknown): Promise<Result<void>> {
  return changed(() => keepHeat(heatInput.validateSync(raw, { abortEarly: false })));
}

export async function readSeenWarm(raw: unknown): Promise<Result<{ last: string | null; says: string }>> {
  return resultOf(() => readWarm(warmInput.validateSync(raw)));
}
