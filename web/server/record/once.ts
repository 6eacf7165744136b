import { actor } from './actor.ts';
import type { RequestRow } from './rows/people-rows.ts';
import { db, json } from './db.ts';
import { ExpectedError, type Result } from './errors.ts';

/** Names the intention of whoever sends a change: the same again is the same change. */
export const requestHeader = 'x-umbral-request';

const keyForm = /^[\w-]{16,80}$/;
const askEveryMs = 100;
const patienceMs = 15_000;
/** After this an answer that never came will not come, also where its process cannot be asked after. */
const staleS = 120;

/** This process, by its number and when it began: told from another one that is given the number later. */
const thisProcess = `${process.pid} ${performance.timeOrigin}`;

/** Whether the process that took a request may still answer it. All of them run on this computer. */
function isThere(of: string | null): boolean {
  if (of === null || of === thisProcess) return true;
  const pid = Number.parseInt(of, 10);
  if (pid === process.pid) return false;
  try {
    return process.kill(pid, 0);
  } catch (error) {
    // It is there, and is not ours to ask.
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

async function take(key: string, what: string): Promise<'ours' | Result<unknown> | 'under way'> {
  const q = db();
  const made = (await q('requests')
    .insert({ key, what, person_id: actor()?.person.id ?? null, process: thisProcess })
    .onConflict('key')
    .ignore()
    .returning('key')) as unknown[];
  if (made.length > 0) return 'ours';
  const known = await q('requests')
    .where({ key })
    .first<(RequestRow & { stale: boolean }) | undefined>(
      'answer',
      'person_id',
      'what',
      'process',
      q.raw('asked_at < now() - make_interval(secs => ?) AS stale', [staleS]),
    );
  if (!known) return take(key, what);
  if (known.person_id !== (actor()?.person.id ?? null))
    throw new ExpectedError('input', 'This request belongs to someone else.');
  if (known.what !== null && known.what !== what)
    throw new ExpectedError('input', 'This request key was already used for something else. Nothing was saved.');
  if (known.answer) return known.answer;
  if (!known.stale && isThere(known.process)) return 'under way';
  await q('requests').where({ key }).delete();
  throw new ExpectedError(
    'conflict',
    'The server stopped while saving. Check the job and enter it again if it is missing.',
  );
}

/**
 * Does a change once, however often it is sent: whoever sends it again is given the first answer. One that failed is done
 * anew.
 *
 * @param key of the intention; null for a sender who names none
 * @param what is asked for: the same key for something else is refused
 * @throws {ExpectedError} where it is still under way after a while, or was broken off
 */
export async function once<T>(key: string | null, what: string, work: () => Promise<Result<T>>): Promise<Result<T>> {
  if (key === null || !keyForm.test(key)) return work();
  const end = performance.now() + patienceMs;
  let found = await take(key, what);
  while (found === 'under way') {
    if (performance.now() > end)
      throw new ExpectedError('busy', 'This is already in progress. Check again in a moment.');
    await new Promise((resolve) => setTimeout(resolve, askEveryMs));
    found = await take(key, what);
  }
  if (found !== 'ours') return found as Result<T>;
  let result: Result<T> | null = null;
  try {
    result = await work();
    return result;
  } finally {
    const mine = db()('requests').where({ key });
    await (result?.ok ? mine.update({ answer: json({ ok: true, value: result.value ?? null }) }) : mine.delete());
  }
}
