import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { capture, Problem, root, run, say } from './run.mjs';

const isRoot = process.getuid?.() === 0;

function hashOf(files) {
  const hash = createHash('sha256');
  for (const file of files)
    hash.update(file).update(existsSync(join(root, file)) ? readFileSync(join(root, file)) : '');
  return hash.digest('hex');
}

function isStamped(stamp, value) {
  return existsSync(stamp) && readFileSync(stamp, 'utf8') === value;
}

/** Installs the npm packages where they are missing or the lock file has changed. */
export async function ensurePackages() {
  const stamp = join(root, 'node_modules', '.umbral-installed');
  const workspaces = ['core', 'instruments', 'cli', 'front', 'web', 'e2e'].map((w) => `${w}/package.json`);
  const wanted = hashOf(['package-lock.json', 'package.json', ...workspaces]);
  if (!isStamped(stamp, wanted)) {
    say('Installing npm packages …');
    const code = await run('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error']);
    if (code !== 0) throw new Problem('The npm packages could not be installed; see the messages above.');
    writeFileSync(stamp, wanted);
  }
  await run(process.execPath, [join(root, 'scripts/engine-version.mjs')]);
  const built = await run(process.execPath, [
    join(root, 'node_modules/typescript/bin/tsc'),
    '-b',
    'core',
    'instruments',
    'cli',
    'front',
  ]);
  if (built !== 0) throw new Problem('The core could not be built; see the messages above.');
  const told = await run(process.execPath, [join(root, 'scripts/worlds.mjs')]);
  if (told !== 0) throw new Problem('The populations of devices could not be started; see the messages above.');
}

/** Installs Debian packages where that is possible, and says exactly what to do where it is not. */
export async function ensureDebian(packages, why) {
  const command = `apt-get install -y ${packages.join(' ')}`;
  if (!isRoot)
    throw new Problem(`${why} is missing. Install it as root with:\n\n    ${command}\n\nand run this again.`);
  say(`Installing ${why} from Debian's packages …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const install = () =>
    capture('apt-get', ['install', '-y', '-q', '-o', 'Dpkg::Options::=--force-confold', ...packages], { env });
  let done = await install();
  if (done.code !== 0) {
    await capture('apt-get', ['update', '-q'], { env });
    done = await install();
  }
  if (done.code !== 0) throw new Problem(`${why} could not be installed with "${command}":\n${done.out.slice(-1500)}`);
}

export async function ensureChromium() {
  if (!existsSync('/usr/bin/chromium')) await ensureDebian(['chromium'], 'Chromium');
}

/** What the instruments are tried with beside our own code; where one cannot be installed its tests are left out. */
export async function ensureInstrumentTools() {
  for (const [program, name, what] of [
    ['lxi', 'lxi-tools', 'with an ordinary SCPI client'],
    ['socat', 'socat', 'over a serial port'],
  ]) {
    if (existsSync(`/usr/bin/${program}`)) continue;
    if (isRoot) await ensureDebian([name], name).catch((error) => say(error.message));
    else say(`${name} is not installed: the tests ${what} are left out.`);
  }
}

function* sourceFiles(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (['node_modules', '.next', 'dist', '.data'].includes(entry.name)) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* sourceFiles(path);
    else if (!/\.test\.tsx?$|\.tsbuildinfo$/.test(entry.name)) yield path;
  }
}

/** Builds the web application unless the last build was made from the same sources. */
export async function ensureWebBuild() {
  const hash = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')));
  for (const folder of ['core/src', 'web']) {
    for (const path of [...sourceFiles(join(root, folder))].sort()) {
      if (path.endsWith('next-env.d.ts')) continue;
      hash.update(path).update(statSync(path).size.toString()).update(readFileSync(path));
    }
  }
  const stamp = join(root, 'web', '.next', 'umbral-built');
  const wanted = hash.digest('hex');
  if (isStamped(stamp, wanted)) return;
  say('Building the web application …');
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' };
  const code = await run(process.execPath, [join(root, 'node_modules/next/dist/bin/next'), 'build'], {
    cwd: join(root, 'web'),
    env,
  });
  if (code !== 0) throw new Problem('The web application could not be built; see the messages above.');
  dropPublishedSource();
  mkdirSync(join(root, 'web', '.next'), { recursive: true });
  writeFileSync(stamp, wanted);
}

/** The bundler copies a worker's entry, as it was written, among the public files; nothing asks for it there. */
function dropPublishedSource() {
  const media = join(root, 'web', '.next', 'static', 'media');
  if (!existsSync(media)) return;
  for (const name of readdirSync(media)) if (/\.tsx?$/.test(name)) rmSync(join(media, name));
}
