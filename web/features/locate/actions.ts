'use server';

import { changed } from '@/features/changed';
import type { Result } from '@/server/errors';
import { heatInput, keepHeat } from '@/server/locate';

export async function keepHeatSeen(raw: unknown): Promise<Result<void>> {
  return changed(() => keepHeat(heatInput.validateSync(raw, { abortEarly: false })));
}
