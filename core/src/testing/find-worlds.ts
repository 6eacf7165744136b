import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import made from '../diagnosis/engine-version.json';
import { unpackWorlds } from '../prediction/worlds-file.ts';
import { provideWorlds } from '../prediction/worlds-source.ts';

/** Before every test file: what the populations show is read from where the build has put it. */
const folder = join(__dirname, '..', '..', 'dist', 'worlds');

provideWorlds((profileId) => {
  try {
    return unpackWorlds(new Uint8Array(readFileSync(join(folder, `${profileId}-${made.worlds}.bin`))));
  } catch {
    return null;
  }
});
