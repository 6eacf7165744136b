import { shippedProfile } from '../twin/index.ts';
import { makeWorlds, type Worlds } from './worlds.ts';
import { providedWorlds } from './worlds-source.ts';

const kept = new Map<string, Worlds | null>();

/** The worlds of a profile that stands for a class; null where no population is described for it. */
export function worldsOf(profileId: string): Worlds | null {
  let worlds = kept.get(profileId);
  if (worlds === undefined) {
    const profile = shippedProfile(profileId);
    worlds = providedWorlds(profileId) ?? (profile ? makeWorlds(profile) : null);
    kept.set(profileId, worlds);
  }
  return worlds;
}
