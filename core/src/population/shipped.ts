import computers from './classes/computers.json';
import mobiles from './classes/mobiles.json';
import type { Population } from './definition.ts';

/** The populations that come with the application; a test reads each of them as strictly as one from outside. */
export const shippedPopulations = [mobiles, computers] as unknown as readonly Population[];

/** The population that a profile which stands for a class belongs to; null where there is none. */
export function populationFor(profileId: string): Population | null {
  return shippedPopulations.find((p) => p.profiles.includes(profileId)) ?? null;
}
