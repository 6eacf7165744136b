import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { provideWorlds, unpackWorlds, worldsFile } from '@umbral/core';

/** Where the build keeps what the populations show. */
const folder = join(__dirname, '..', '..', 'core', 'dist', 'worlds');

/** Lets the engine find what the populations show; where it is not there it works it out itself, in ten seconds. */
export function findWorlds(): void {
  provideWorlds((profileId) => {
    try {
      return unpackWorlds(readFileSync(join(folder, worldsFile(profileId))));
    } catch {
      return null;
    }
  });
}
