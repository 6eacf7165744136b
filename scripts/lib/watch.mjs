import { watch } from 'node:fs';
import { join } from 'node:path';
import { capture, root, run, say } from './run.mjs';

/** Editors write a file in several steps; what comes within this belongs together. */
const settleMs = 30;
/** The programs beside the pages are built when the pages have had their time. */
const buildAfterMs = 5000;

const tsc = join(root, 'node_modules/typescript/bin/tsc');
const isSource = (name) =>
  name !== null && /\.(ts|json|cjs)$/.test(name) && !/\.test\.ts$|engine-version\.json$/.test(name);

/**
 * Follows the sources of the core and of the instruments while somebody works on them. The pages take the core as source
 * and reload by themselves; here the engine gets a new version, so that verdicts are made anew, and the programs beside
 * the pages are built and started again.
 *
 * @param restart called after a build in which a program of the instruments changed
 * @returns a way to stop
 */
export function watchSources(restart) {
  const waiting = { version: null, build: null };
  let isTheirs = false;
  let last = Promise.resolve();
  const soon = (what, ms, work) => {
    clearTimeout(waiting[what]);
    waiting[what] = setTimeout(() => (last = last.then(work).catch((error) => say(error.message))), ms);
  };
  const version = () => run(process.execPath, [join(root, 'scripts/engine-version.mjs'), '--keep-worlds']);
  const build = async () => {
    const { code, out } = await capture(process.execPath, [tsc, '-b', 'core', 'tools', 'instruments', 'cli', 'front']);
    if (code !== 0) return say(out);
    if (!isTheirs) return;
    isTheirs = false;
    await restart();
  };
  const follow = (folder, changed) =>
    watch(join(root, folder), { recursive: true }, (_, name) => isSource(name) && changed());
  const watchers = [
    follow('core/src', () => {
      soon('version', settleMs, version);
      soon('build', buildAfterMs, build);
    }),
    follow('instruments/src', () => {
      isTheirs = true;
      soon('build', settleMs, build);
    }),
    follow('cli/src', () => soon('build', settleMs, build)),
  ];
  return () => {
    for (const timer of Object.values(waiting)) clearTimeout(timer);
    for (const watcher of watchers) watcher.close();
  };
}
