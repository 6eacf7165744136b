import { revalidatePath } from 'next/cache';
import { resultOf, type Result } from '@/server/errors';

/** Runs one piece of work that changes the record, and shows every page anew where it succeeded. */
export async function changed<T>(run: () => Promise<T>): Promise<Result<T>> {
  const result = await resultOf(run);
  if (result.ok) revalidatePath('/', 'layout');
  return result;
}
