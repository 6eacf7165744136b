import { LRUCache } from 'lru-cache';
import { db, transaction } from '../db.ts';
import { audit } from '../audit.ts';
import type { Person } from './actor.ts';
import { isDemo } from './demo.ts';
import { digestOf, newSecret } from './passwords.ts';
import { personOf } from './people.ts';
import type { PersonRow } from '../tables.ts';
import policy from './policy.json';

export interface Session {
  person: Person;
  /** Locked by hand, or because nobody touched this screen for a while: a PIN opens it again. */
  isLocked: boolean;
}

interface Found extends Session {
  askedAt: number;
}

/** What was found a moment ago: a page asks more than once, and an output must not go off because the database restarts. */
const found = new LRUCache<string, Found>({ max: 2000 });

interface SessionRow extends PersonRow {
  locked: boolean;
}

/**
 * The session of a cookie; null where there is none, or it is over.
 *
 * @param secret what the cookie holds
 * @param touch whether a person did something, so that the screen stays open
 */
export async function sessionOf(secret: string, touch: boolean): Promise<Session | null> {
  if (secret.length > 100) return null;
  const hash = digestOf(secret);
  const known = found.get(hash);
  const age = known ? (performance.now() - known.askedAt) / 1000 : Infinity;
  if (known && age < policy.cacheS && !touch) return known;
  let row: SessionRow | undefined;
  try {
    row = await db()<SessionRow>('sessions')
      .join('people', 'people.id', 'sessions.person_id')
      .where({ 'sessions.hash': hash })
      .whereNull('people.disabled_at')
      .where((q) => (isDemo() ? q : q.where({ 'people.is_demo': false })))
      .where('sessions.expires_at', '>', db().fn.now())
      .first(
        'people.*',
        db().raw(`(sessions.locked_at IS NOT NULL OR sessions.seen_at < now() - make_interval(mins => ?)) AS locked`, [
          policy.lockAfterMinutes,
        ]),
      );
  } catch (error) {
    // The database is away: who was here a moment ago still is.
    if (known && age < policy.staleS) return known;
    throw error;
  }
  if (!row) {
    found.delete(hash);
    return null;
  }
  const session: Found = { person: personOf(row), isLocked: row.locked, askedAt: performance.now() };
  found.set(hash, session);
  if (touch && !session.isLocked && age > policy.cacheS)
    await db()('sessions').where({ hash }).update({ seen_at: db().fn.now() });
  return session;
}

/**
 * Begins a session.
 *
 * @returns what its cookie holds
 */
export async function beginSession(person: Person, how: 'password' | 'PIN' | 'code' | 'demo'): Promise<string> {
  const secret = newSecret();
  await transaction(async (q) => {
    await q('sessions').where('expires_at', '<', q.fn.now()).delete();
    await q('sessions').insert({
      hash: digestOf(secret),
      person_id: person.id,
      expires_at: q.raw('now() + make_interval(days => ?)', [policy.sessionDays]),
    });
    await audit(q, null, 'signed in', { person: person.id, how });
  });
  return secret;
}

export async function lockSession(secret: string): Promise<void> {
  const hash = digestOf(secret);
  found.delete(hash);
  await db()('sessions').where({ hash }).update({ locked_at: db().fn.now() });
}

export async function endSession(secret: string): Promise<void> {
  const hash = digestOf(secret);
  found.delete(hash);
  await db()('sessions').where({ hash }).delete();
}

/** Forgets what was found: for tests, and after a change of people. */
export function forgetFound(): void {
  found.clear();
}
