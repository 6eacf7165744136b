import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { worldsFolder } from './run.mjs';

/** Lets the engine find what the populations show where the build has put it. */
export function findWorlds(core) {
  core.provideWorlds((id) => {
    try {
      return core.unpackWorlds(readFileSync(join(worldsFolder, core.worldsFile(id))));
    } catch {
      return null;
    }
  });
}
