// The core and its measuring tools, as one, for whoever measures.
import { join } from 'node:path';
import { root } from './run.mjs';

/** Everything that the core and the tools export; loaded when it is asked for, after a number was bent. */
export async function engine() {
  const [core, tools] = await Promise.all(
    ['core', 'tools'].map((part) => import(join(root, part, 'dist', 'index.js'))),
  );
  return { ...core.default, ...tools.default };
}
