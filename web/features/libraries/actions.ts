'use server';

import * as yup from 'yup';
import { changed } from '@/features/changed';
import type { Result } from '@/server/errors';
import { removeLibrary } from '@/server/library/exchange';

/** Takes a library out, with all that it taught. */
export async function takeLibraryOut(id: unknown): Promise<Result<void>> {
  return changed('lead', () => removeLibrary(yup.number().integer().positive().required().validateSync(id)));
}
