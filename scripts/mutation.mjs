// npm run mutation -- ROOM[/FILE]: changes the code of a room of the core in small ways, and looks whether its own tests notice.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { main, Problem, root, run } from './lib/run.mjs';

main(async () => {
  const at = process.argv[2] ?? '';
  const [room, file = '*'] = at.split('/');
  if (!/^[a-z]+(\/[a-z-]+)?$/.test(at))
    throw new Problem('Expected a room of the core, and perhaps one of its files: inference, or observation/unplug.');
  mkdirSync(join(root, '.data'), { recursive: true });
  const mutate = [`core/src/${room}/${file}.ts`, '!core/src/**/*.test.ts', '!core/src/**/index.ts'].join(',');
  const kept = join('.data', `mutation-${at.replace('/', '-')}.json`);
  process.exitCode = await run(
    join(root, 'node_modules', '.bin', 'stryker'),
    ['run', '--mutate', mutate, '--incrementalFile', kept],
    {
      env: { ...process.env, UMBRAL_MUTATE: at },
    },
  );
});
