import type { Worlds } from './worlds.ts';

type Source = (profileId: string) => Worlds | null;

let current: Source = () => null;

/**
 * Says where worlds that were worked out before are found. Whoever starts the engine says it once; where none are found
 * they are made when they are first asked for, which takes some ten seconds a class and gives the same.
 */
export function provideWorlds(source: Source): void {
  current = source;
}

/** Worlds that were worked out before; null where there are none. */
export function providedWorlds(profileId: string): Worlds | null {
  return current(profileId);
}
