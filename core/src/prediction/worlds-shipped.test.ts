import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliDecompressSync } from 'node:zlib';
import made from '../diagnosis/engine-version.json';
import { shippedPopulations } from '../population/index.ts';
import { shippedProfile } from '../twin/index.ts';
import { packWorlds } from './worlds-file.ts';
import { makeWorlds, type Worlds } from './worlds.ts';

const folder = join(__dirname, '..', '..', 'worlds');
const fileOf = (id: string): string => join(folder, `${id}-${made.worlds}.bin.br`);

describe('what the populations show, as it is in the repository', () => {
  test('is of these sources; "npm run worlds" makes it anew, to be committed with them', () => {
    const ids = shippedPopulations.flatMap((p) => p.profiles);
    expect(ids.length).toBeGreaterThan(5);
    expect(ids.filter((id) => !existsSync(fileOf(id)))).toEqual([]);
  });

  test('is what these sources work out', () => {
    const id = 'generic-ereader';
    const shipped = brotliDecompressSync(readFileSync(fileOf(id)));
    const worked = packWorlds(makeWorlds(shippedProfile(id)!) as Worlds);
    expect(worked.length).toBe(shipped.length);
    // Another release of Node may differ in the last place of a number, and so in a rounded byte.
    const others = worked.reduce((sum, byte, k) => sum + (byte === shipped[k] ? 0 : 1), 0);
    expect(others).toBeLessThan(worked.length / 10_000);
  });
});
