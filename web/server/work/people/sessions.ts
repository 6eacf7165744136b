import { LRUCache } from 'lru-cache';
import { db, transaction } from '../../record/db.ts';
import { addAudit } from '../../record/audit.ts';
import type { Person } from '../../record/actor.ts';
import { isDemo } from './demo.ts';
import { digestOf, newSecret } from './passwords.ts';
import { personOf } from './people.ts';
import type { PersonRow } from '../../record/tables.ts';
import policy from './policy.json';

export interface Session {
  person: Person;
  /** Locked by hand, or because nobody touched this screen for a while: a PIN opens it again. */
  isLocked: boolean;
}

interface Found extends Session {
  askedAt: number;
}

declare global {
  // Pages, routes and actions are bundled apart; they share one process.
  var umbralSessions: LRUCache<string, Found> | undefined;
}

/** What was found last, for while the database is away: an output must not go off because it restarts. */
const found = (): LRUCache<string, Found> => (globalThis.umbralSessions ??= new LRUCache({ max: 2000 }));

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
    const known = found().get(hash);
    if (known && performance.now() - known.askedAt < 1000 * policy.staleS) return known;
    throw error;
  }
  if (!row) {
    found().delete(hash);
    return null;
  }
  const session: Found = { person: personOf(row), isLocked: row.locked, askedAt: performance.now() };
  found().set(hash, session);
  if (touch && !session.isLocked)
    await db()('sessions')
      .where({ hash })
      .where('seen_at', '<', db().raw('now() - make_interval(secs => ?)', [policy.touchS]))
      .update({ seen_at: db().fn.now() });
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
    await addAudit(q, null, 'signed in', { person: person.id, how });
  });
  return secret;
}

export async function lockSession(secret: string): Promise<void> {
  const hash = digestOf(secret);
  found().delete(hash);
  await db()('sessions').where({ hash }).update({ locked_at: db().fn.now() });
}

export async function endSession(secret: string): Promise<void> {
  const hash = digestOf(secret);
  found().delete(hash);
  await db()('sessions').where({ hash }).delete();
}

/** Forgets what was found: for tests, and after a change of people. */
export function forgetFound(): void {
  found().clear();
}
