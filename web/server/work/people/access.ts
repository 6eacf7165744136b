import { cookies, headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { cache } from 'react';
import { AccessError, failure, type Result } from '../../record/errors.ts';
import { asActor, type Actor, type Role } from '../../record/actor.ts';
import { demoLead, signsInAutomatically } from './demo.ts';
import { sessionOf, type Session } from './sessions.ts';
import { tokenOf, type Scope } from './tokens.ts';

export const sessionCookie = 'umbral_session';

/**
 * Who may do something: `present` is anybody whose session is there, locked or not, for what makes things safer and
 * nothing else; a scope lets programs in beside people.
 */
export type Needs = 'present' | Role | { role: Role; scope: Scope };

/** Whoever asks now: a person with a session, or the lead of the demo; null for nobody. */
export const currentSession = cache(async (touch: boolean): Promise<(Session & { secret: string | null }) | null> => {
  const secret = (await cookies()).get(sessionCookie)?.value;
  const session = secret ? await sessionOf(secret, touch) : null;
  if (session && secret) return { ...session, secret };
  const asked = await headers();
  if (!signsInAutomatically(asked.get('x-umbral-address'), asked.get('host'))) return null;
  return { person: await demoLead(), isLocked: false, secret: null };
});

const ranks: Record<Role, number> = { technician: 0, lead: 1 };

function refuseRole(role: Role, needed: Role): void {
  if (ranks[role] < ranks[needed]) throw new AccessError('forbidden', 'Only a lead may do this.');
}

async function bearer(): Promise<string | null> {
  const given = (await headers()).get('authorization');
  return given?.startsWith('Bearer ') ? given.slice(7) : null;
}

async function actorFor(needs: Needs): Promise<Actor> {
  const token = await bearer();
  if (token !== null) {
    const known = await tokenOf(token);
    if (!known) throw new AccessError('signed-out', 'This token is unknown or was revoked.');
    if (typeof needs === 'string' || !known.scopes.includes(needs.scope))
      throw new AccessError('forbidden', `The token "${known.actor.token}" may not do this.`);
    refuseRole(known.actor.person.role, needs.role);
    return known.actor;
  }
  const session = await currentSession(needs !== 'present');
  if (!session) throw new AccessError('signed-out', 'You are signed out. Sign in in another window, then try again.');
  if (needs === 'present') return { person: session.person, token: null, tokenId: null };
  if (session.isLocked) throw new AccessError('locked', 'This screen is locked. Unlock it with a PIN, then try again.');
  refuseRole(session.person.role, typeof needs === 'string' ? needs : needs.role);
  return { person: session.person, token: null, tokenId: null };
}

/**
 * Does something for whoever asks, if they may.
 *
 * @throws {AccessError} for nobody, a locked screen, or somebody who may not
 */
export async function forActor<T>(needs: Needs, work: (actor: Actor) => Promise<T>): Promise<T> {
  const actor = await actorFor(needs);
  return asActor(actor, () => work(actor));
}

/** The same as a result: what a server action returns. */
export async function resultFor<T>(needs: Needs, work: (actor: Actor) => Promise<T> | T): Promise<Result<T>> {
  try {
    return { ok: true, value: await forActor(needs, async (actor) => work(actor)) };
  } catch (error) {
    return failure(error);
  }
}

/**
 * Whoever opens a page, signed in and not locked; others are led to the sign-in and back.
 *
 * @param role whom the page is for
 */
export async function signedIn(role: Role = 'technician'): Promise<Session & { secret: string | null }> {
  const session = await currentSession(true);
  if (!session || session.isLocked) redirect('/sign-in');
  if (ranks[session.person.role] < ranks[role]) redirect('/');
  return session;
}
