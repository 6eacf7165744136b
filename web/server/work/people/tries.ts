import { createHash } from 'node:crypto';
import { db } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { digestOf } from './passwords.ts';
import policy from './policy.json';

/** Where somebody tries to sign in from. */
export interface From {
  address: string | null;
  /** What the cookie of this screen holds, where somebody signed in here before. */
  screen: string | null;
}

export const fromNowhere: From = { address: null, screen: null };

interface Counted {
  key: string;
  /** So many tries come before the first wait; after so many minutes without one they are forgotten. */
  free: number;
  forgetMinutes: number;
}

/** Seconds to wait after so many tries in a row: twice as long each time, up to a quarter of an hour. */
export function waitAfter(tries: number, free: number = policy.tries.free): number {
  return tries < free ? 0 : Math.min(policy.tries.longestWaitS, 2 ** (tries - free + 1));
}

const nameKey = (name: string): string => `name ${createHash('sha256').update(name.toLowerCase()).digest('hex')}`;

/** What is counted for a try: at a screen that this person is known at, that alone; elsewhere the name and the address. */
async function countedFor(name: string, { address, screen }: From): Promise<Counted[]> {
  const { free, forgetMinutes, address: ofAddress } = policy.tries;
  const known = screen === null ? undefined : await knownAt(screen, name);
  if (known) return [{ key: `screen ${known.hash} ${known.person_id}`, free, forgetMinutes }];
  const byName = { key: nameKey(name), free, forgetMinutes };
  return address === null ? [byName] : [{ key: `address ${address}`, ...ofAddress }, byName];
}

function knownAt(screen: string, name: string): Promise<{ hash: string; person_id: number } | undefined> {
  return db()('known_screens as s')
    .join('people as p', 'p.id', 's.person_id')
    .where('s.hash', digestOf(screen.slice(0, 200)))
    .whereRaw('lower(p.name) = lower(?)', [name.slice(0, 200)])
    .whereNull('p.disabled_at')
    .first<{ hash: string; person_id: number } | undefined>('s.hash', 's.person_id');
}

/** One more try, in one statement: of a hundred at once each is counted before the next is let through. */
async function count({ key, free, forgetMinutes }: Counted): Promise<void> {
  const { rows } = (await db().raw(
    `INSERT INTO sign_in_tries AS t (key, tries) VALUES (:key, 1)
     ON CONFLICT (key) DO UPDATE SET tried_at = now(),
       tries = CASE WHEN t.tried_at < now() - make_interval(mins => :forgetMinutes) THEN 1 ELSE t.tries + 1 END,
       locked_until = CASE WHEN t.tries + 1 < :free OR t.tried_at < now() - make_interval(mins => :forgetMinutes) THEN NULL
         ELSE now() + make_interval(secs => least(:longestWaitS, 2 ^ least(20, t.tries + 2 - :free))) END
     -- Longer than any wait: the clock was set back meanwhile.
     WHERE t.locked_until IS NULL OR t.locked_until NOT BETWEEN now() AND now() + make_interval(secs => :longestWaitS)
     RETURNING tries`,
    { key, free, forgetMinutes, longestWaitS: policy.tries.longestWaitS },
  )) as { rows: { tries: number }[] };
  if (rows.length > 0) return;
  const waits = (await db()('sign_in_tries')
    .where({ key })
    .first(db().raw('greatest(1, ceil(extract(epoch FROM locked_until - now())))::int AS seconds'))) as
    { seconds: number } | undefined;
  throw new ExpectedError(
    'input',
    `Too many wrong attempts. Try again in ${waits?.seconds ?? 1} s, or use a code from the console.`,
  );
}

/**
 * Counts a try before anything is compared.
 *
 * @returns to be called where it was right: the count of the name or screen begins anew, the address has one try less
 * @throws {ExpectedError} with the seconds to wait, the same for a name that nobody has
 */
export async function countTry(name: string, from: From): Promise<() => Promise<void>> {
  const counted = await countedFor(name, from);
  for (const one of counted) await count(one);
  return async () => {
    for (const { key } of counted)
      await (key.startsWith('address ')
        ? db()('sign_in_tries')
            .where({ key })
            .update({ tries: db().raw('greatest(0, tries - 1)'), locked_until: null })
        : db()('sign_in_tries').where({ key }).delete());
  };
}

/** A code from the console was used: nobody of this name has to wait any more. */
export async function forgetTries(name: string): Promise<void> {
  await db()('sign_in_tries')
    .where({ key: nameKey(name) })
    .delete();
}

/** From now on this person is known at this screen. */
export async function knowScreen(personId: number, screen: string): Promise<void> {
  await db()('known_screens')
    .insert({ hash: digestOf(screen), person_id: personId })
    .onConflict(['hash', 'person_id'])
    .merge({ seen_at: db().fn.now() });
}
