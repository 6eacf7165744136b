import made from './engine-version.json';

/** Made from the engine's sources and data when it is built, so that a stored verdict of other sources is known to be old. */
export const engineVersion: string = made.version;

/** Name of the file that holds the worlds of a profile: of these sources and data, and of no others. */
export function worldsFile(profileId: string): string {
  return `${profileId}-${made.worlds}.bin`;
}
