// npm run release: one archive that runs where Node and the database's packages are, made from this checkout.
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { ensureCompiled, ensurePackages, ensureWebBuild, hashOfPackages, releaseName } from './lib/install.mjs';
import { capture, main, Problem, root, say } from './lib/run.mjs';

/** What runs, beside the packages. */
const running = [
  'LICENSE',
  'README.md',
  'docs',
  'package.json',
  'package-lock.json',
  'scripts',
  ...['core', 'instruments', 'cli', 'front', 'web'].map((name) => `${name}/package.json`),
  ...['core', 'instruments', 'cli', 'front'].map((name) => `${name}/dist`),
  'cli/bin',
  'instruments/plain',
  'web/.next',
  'web/next.config.mjs',
  'web/public',
  'web/server/migrations',
  'web/server/catalogue-constraints.cjs',
];
const notRunning = /\.d\.ts$|\.tsbuildinfo$|\.map$|\/\.next\/(cache|types|dev|trace)|\/scripts\/(bench|fuzz)/;

/** Packages that only building needs. */
const onlyBuilding =
  /node_modules\/(typescript|playwright[^/]*|@playwright|tailwindcss|lightningcss[^/]*|jiti|@tailwindcss|@types|@next\/swc-[^/]*)(\/|$)/;

/** Paths of the packages that running needs. */
async function packages() {
  const { out } = await capture('npm', ['ls', '--omit=dev', '--all', '--parseable', '--loglevel=silent']);
  return out
    .split('\n')
    .map((path) => relative(root, path))
    .filter((path) => path.includes('node_modules') && !onlyBuilding.test(path) && existsSync(join(root, path)));
}

/** Name, version and licence of each package, with the text that it carries. */
function licences(paths) {
  return paths.map((path) => {
    const { name, version, license } = JSON.parse(readFileSync(join(root, path, 'package.json'), 'utf8'));
    const file = readdirSync(join(root, path)).find((entry) => /^(licen[cs]e|copying)/i.test(entry));
    const text = file && statSync(join(root, path, file)).isFile() ? readFileSync(join(root, path, file), 'utf8') : '';
    return `${name} ${version}: ${typeof license === 'string' ? license : (license?.type ?? 'see its text')}\n\n${text}`;
  });
}

main(async () => {
  await ensurePackages();
  await Promise.all([ensureCompiled(), ensureWebBuild()]);
  const name = releaseName();
  const folder = join(root, '.data', 'release');
  const stage = join(folder, name);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(stage, { recursive: true });
  const found = await packages();
  if (found.length === 0) throw new Problem('No packages were found; run "npm ci" and try again.');
  const copy = (path, isWanted) =>
    cpSync(join(root, path), join(stage, path), { recursive: true, verbatimSymlinks: true, filter: isWanted });
  for (const path of running) copy(path, (at) => !notRunning.test(at));
  // What a package has inside is named by itself.
  for (const path of found) copy(path, (at) => !relative(join(root, path), at).startsWith('node_modules'));
  writeFileSync(join(stage, 'node_modules', '.umbral-installed'), `${hashOfPackages()} released`);
  writeFileSync(join(stage, 'LICENCES.txt'), licences(found).join(`\n${'-'.repeat(80)}\n`));
  writeFileSync(join(stage, 'release.json'), `${JSON.stringify({ name, node: process.version })}\n`);
  const archive = join(root, `${name}.tar.gz`);
  const { code, out } = await capture('tar', ['-czf', archive, '-C', folder, name]);
  if (code !== 0) throw new Problem(`The archive could not be written: ${out.slice(-500)}`);
  rmSync(folder, { recursive: true, force: true });
  say(
    `${archive}: ${Math.round(statSync(archive).size / 1e6)} MB. Unpack it and run "npm start" or "npm run demo" in it.`,
  );
});
