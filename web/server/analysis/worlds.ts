import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { provideWorlds, unpackWorlds, worldsFile } from '@umbral/core';

/** Lets the engine find what the populations show where the build has put it. */
export function findWorlds(): void {
  const folder = process.env.UMBRAL_WORLDS;
  if (folder === undefined) return;
  provideWorlds((profileId) => {
    try {
      return unpackWorlds(readFileSync(join(/* turbopackIgnore: true */ folder, worldsFile(profileId))));
    } catch {
      // Not made, or cut off: the engine works it out itself.
      return null;
    }
  });
}
