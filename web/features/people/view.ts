import { isDemo } from '@/server/work/people/demo';
import { loadPeople } from '@/server/work/people/people';
import { loadTokens, scopeNames } from '@/server/work/people/tokens';
import type { SwitchablePerson } from './sign-in-form';
import type { TokenView } from './tokens-settings';

/** Who can step up to this screen: with a PIN, or in the demo without one. */
export async function switchablePeople(): Promise<SwitchablePerson[]> {
  const people = await loadPeople();
  return people
    .filter((p) => (p.isDemo ? isDemo() : p.hasPin))
    .map(({ id, name, isDemo: demo }) => ({ id, name, isDemo: demo }));
}

/** Tokens that are valid, with what each may do in words. */
export async function tokenViews(): Promise<TokenView[]> {
  return (await loadTokens()).map(({ id, name, scopes, person, usedAt }) => ({
    id,
    name,
    may: scopes.map((s) => scopeNames[s]).join(', '),
    person,
    used: usedAt === null ? 'not used yet' : `last used on ${usedAt.slice(0, 10)}`,
  }));
}
