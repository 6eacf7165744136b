import { revalidatePath } from 'next/cache';
import { headers } from 'next/headers';
import { readInput } from '@umbral/core';
import type { ValidateOptions } from 'yup';
import type { Result } from '@/server/record/errors';
import { once, requestHeader } from '@/server/record/once';
import { resultFor, type Needs } from '@/server/work/people/access';

/**
 * Runs one piece of work that changes the record for whoever may, once however often it is sent, and shows every page anew
 * where it succeeded.
 */
export async function changed<T>(needs: Needs, work: () => Promise<T>): Promise<Result<T>> {
  const given = await headers();
  const key = given.get(requestHeader);
  // Next names the action that a request is for; the same key with other words is another change.
  const what = `action ${given.get('next-action') ?? ''}`;
  const result = await resultFor(needs, async () => {
    // A failure is thrown on, so that whatever it was keeps its words.
    let thrown: unknown;
    const kept = await once(key, what, async () => {
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

/** What reads an input: a schema of Yup, which says in words what is wrong. */
interface Schema<Input> {
  validateSync(raw: unknown, options: ValidateOptions): Input;
}

/**
 * A server action: work that changes the record, for whoever may, with an input that is checked first.
 *
 * @returns what the page calls; what is wrong with its input is said at once ({@link readInput})
 */
export const action =
  <Input, T>(needs: Needs, schema: Schema<Input>, work: (input: Input) => T | Promise<T>) =>
  (raw: unknown): Promise<Result<T>> =>
    changed(needs, async () => work(readInput(schema, raw)));

/** The same for what only reads. */
export const question =
  <Input, T>(needs: Needs, schema: Schema<Input>, work: (input: Input) => T | Promise<T>) =>
  (raw: unknown): Promise<Result<T>> =>
    resultFor(needs, () => work(readInput(schema, raw)));
