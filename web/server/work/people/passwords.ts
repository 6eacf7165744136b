import { hash, verify } from '@node-rs/argon2';
import { createHash, randomBytes } from 'node:crypto';
import { ExpectedError } from '../../record/errors.ts';
import policy from './policy.json';

/** Argon2id with the first of the recommended settings of RFC 9106, section 4, that fits a bench computer. */
const settings = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

/**
 * A password that may be chosen.
 *
 * @throws {ExpectedError} for one that is too short or too long
 */
export function checkedPassword(text: string): string {
  if (text.length < policy.password.min)
    throw new ExpectedError('input', `Password: expected at least ${policy.password.min} characters`);
  if (text.length > policy.password.max)
    throw new ExpectedError('input', `Password: expected at most ${policy.password.max} characters`);
  return text;
}

/**
 * A PIN that may be chosen: 4 to 8 digits, not all the same and not in a row.
 *
 * @throws {ExpectedError} for anything else
 */
export function checkedPin(text: string): string {
  if (!/^\d{4,8}$/.test(text)) throw new ExpectedError('input', 'PIN: expected 4 to 8 digits');
  const steps = new Set([...text].slice(1).map((d, k) => Number(d) - Number(text[k])));
  if (steps.size === 1 && [0, 1, -1].includes([...steps][0]))
    throw new ExpectedError('input', 'PIN: repeated digits or digits in a row are too easy to guess');
  return text;
}

export function hashSecret(secret: string): Promise<string> {
  return hash(secret, settings);
}

/** What is compared with where there is nobody of that name, so that the answer takes as long. */
let nobody: Promise<string> | null = null;

/** Whether a secret is the one that was chosen; takes as long where there is none to compare with. */
export async function isSecret(stored: string | null, given: string): Promise<boolean> {
  const isPossible = given.length > 0 && given.length <= policy.password.max;
  nobody ??= hashSecret(randomBytes(16).toString('hex'));
  const matches = await verify(stored ?? (await nobody), isPossible ? given : 'x').catch(() => false);
  return stored !== null && isPossible && matches;
}

/** A random secret for cookies and tokens, and what is kept of one. */
export const newSecret = (): string => randomBytes(32).toString('base64url');
export const digestOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');
