// Writes the version of the engine, made from its sources and data: a verdict of other sources is known to be old. Beside it
// that of the worlds, which depend on some of them only.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

// --keep-worlds: the populations that were started stay in use while the sources are being worked on.
const keepWorlds = process.argv.includes('--keep-worlds');

const source = fileURLToPath(new URL('../core/src', import.meta.url));
/** Rooms that only measure, draw or use what the engine says do not change what it says. */
const outside = ['made-up', 'sketch', 'testing', 'words', 'workbench', 'practice', 'display', 'board'];
const target = join(source, 'diagnosis', 'engine-version.json');

function files(folder, under = '') {
  return readdirSync(join(folder, under), { withFileTypes: true }).flatMap((entry) => {
    const path = under === '' ? entry.name : `${under}/${entry.name}`;
    if (entry.isDirectory()) return under === '' && outside.includes(entry.name) ? [] : files(folder, path);
    return /\.(ts|json)$/.test(path) && !path.endsWith('.test.ts') && path !== 'diagnosis/engine-version.json'
      ? [path]
      : [];
  });
}

/** Rooms that what a population shows is worked out by. */
const worldsBy = ['quantity', 'trace', 'case', 'shape', 'twin', 'inference', 'hypotheses', 'population', 'prediction'];

function hashOf(paths) {
  const hash = createHash('sha256');
  for (const path of paths.sort())
    hash
      .update(path)
      .update('\0')
      .update(readFileSync(join(source, path)))
      .update('\0');
  return hash.digest('hex').slice(0, 12);
}

const all = files(source);
const { version } = JSON.parse(readFileSync(fileURLToPath(new URL('../core/package.json', import.meta.url)), 'utf8'));
const made = {
  version: `${version}+${hashOf(all)}`,
  worlds: hashOf(all.filter((path) => worldsBy.includes(path.split('/')[0]))),
};
if (keepWorlds && existsSync(target)) made.worlds = JSON.parse(readFileSync(target, 'utf8')).worlds;
const content = `${JSON.stringify(made)}\n`;
if (!existsSync(target) || readFileSync(target, 'utf8') !== content) writeFileSync(target, content);
