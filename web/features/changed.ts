import { revalidatePath } from 'next/cache';
import { headers } from 'next/headers';
import type { Result } from '@/server/errors';
import { once, requestHeader } from '@/server/once';
import { resultFor, type Needs } from '@/server/people/access';

/**
 * Runs one piece of work that changes the record for whoever may, once however often it is sent, and shows every page anew
 * where it succeeded.
 */
export async function changed<T>(needs: Needs, work: () => Promise<T>): Promise<Result<T>> {
  const key = (await headers()).get(requestHeader);
  const result = await resultFor(needs, async () => {
    // A failure is thrown on, so that whatever it was keeps its words.
    let thrown: unknown;
    const kept = await once(key, async () => {
      try {
        return { ok: true, value: await work() };
      } catch (error) {
        thrown = error;
        return { ok: false, kind: 'unexpected', message: '' };
      }
    });
    if (kept.ok) return kept.value;
    throw thrown;
  });
  if (result.ok) revalidatePath('/', 'layout');
  return result;
}
