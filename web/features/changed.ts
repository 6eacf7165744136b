import { revalidatePath } from 'next/cache';
import type { Result } from '@/server/errors';
import { resultFor, type Needs } from '@/server/people/access';

/** Runs one piece of work that changes the record for whoever may, and shows every page anew where it succeeded. */
export async function changed<T>(needs: Needs, work: () => Promise<T>): Promise<Result<T>> {
  const result = await resultFor(needs, work);
  if (result.ok) revalidatePath('/', 'layout');
  return result;
}
