import { addAudit } from '../../record/audit.ts';
import { db, transaction } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import type { Actor } from '../../record/actor.ts';
import { digestOf, newSecret } from './passwords.ts';
import { personOf } from './people.ts';
import type { PersonRow } from '../../record/tables.ts';

/** What a program may do with a token. */
export const scopes = ['packages:read', 'packages:write', 'bench'] as const;
export type Scope = (typeof scopes)[number];

export const scopeNames: Record<Scope, string> = {
  'packages:read': 'read jobs as case packages',
  'packages:write': 'send case packages as new jobs',
  bench: 'record for a bench',
};

interface KnownToken {
  id: number;
  name: string;
  scopes: Scope[];
  person: string;
  usedAt: string | null;
}

const prefix = 'umbral_';

/**
 * Makes a token for a program.
 *
 * @returns the token itself, which is shown once and never again
 * @throws {ExpectedError} without a name or a scope
 */
export async function makeToken(personId: number, name: string, wanted: readonly Scope[]): Promise<string> {
  const called = name.trim();
  if (called.length < 1 || called.length > 80) throw new ExpectedError('input', 'Name: expected 1 to 80 characters');
  if (wanted.length === 0) throw new ExpectedError('input', 'Allowed: choose at least one');
  const token = prefix + newSecret();
  await transaction(async (q) => {
    await q('tokens').insert({ name: called, hash: digestOf(token), scopes: [...wanted], person_id: personId });
    await addAudit(q, null, 'token created', { name: called, scopes: wanted });
  });
  return token;
}

export async function revokeToken(id: number): Promise<void> {
  await transaction(async (q) => {
    const [revoked] = (await q('tokens')
      .where({ id })
      .whereNull('revoked_at')
      .update({ revoked_at: q.fn.now() })
      .returning('name')) as { name: string }[];
    if (!revoked) throw missing('This token');
    await addAudit(q, null, 'token revoked', { name: revoked.name });
  });
}

export async function loadTokens(): Promise<KnownToken[]> {
  const rows = (await db()('tokens')
    .join('people', 'people.id', 'tokens.person_id')
    .whereNull('tokens.revoked_at')
    .orderBy('tokens.id')
    .select('tokens.id', 'tokens.name', 'tokens.scopes', 'tokens.used_at', 'people.name as person')) as {
    id: number;
    name: string;
    scopes: Scope[];
    used_at: Date | null;
    person: string;
  }[];
  return rows.map(({ used_at, ...row }) => ({ ...row, usedAt: used_at?.toISOString() ?? null }));
}

interface TokenHolder {
  id: number;
  actor: Actor;
  scopes: Scope[];
}

/** Whoever stands behind a token, with what it may do; null for one that is not known or was revoked. */
export async function tokenOf(given: string): Promise<TokenHolder | null> {
  if (!given.startsWith(prefix) || given.length > 100) return null;
  const hash = digestOf(given);
  const row = await db()('tokens')
    .join('people', 'people.id', 'tokens.person_id')
    .where('tokens.hash', hash)
    .whereNull('tokens.revoked_at')
    .whereNull('people.disabled_at')
    .first<(PersonRow & { token_id: number; token: string; scopes: Scope[]; stale: boolean }) | undefined>(
      'people.*',
      'tokens.id as token_id',
      'tokens.name as token',
      'tokens.scopes',
      db().raw(`(used_at IS NULL OR used_at < now() - interval '1 minute') AS stale`),
    );
  if (!row) return null;
  if (row.stale) await db()('tokens').where({ id: row.token_id }).update({ used_at: db().fn.now() });
  return {
    id: row.token_id,
    actor: { person: personOf(row), token: row.token, tokenId: row.token_id },
    scopes: row.scopes,
  };
}
