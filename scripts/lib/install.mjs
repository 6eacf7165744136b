import { createHash } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join, relative } from 'node:path';
import { capture, Problem, root, run, say } from './run.mjs';

const { takeLock } = createRequire(import.meta.url)('../../instruments/plain/lock.cjs');
const isRoot = process.getuid?.() === 0;

/** Of what says which packages there are, in every workspace. */
export const hashOfPackages = () =>
  createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');

const readableByAll = 0o644;

function isStamped(stamp, value) {
  return existsSync(stamp) && readFileSync(stamp, 'utf8') === value;
}

/** Whoever starts what was built here reads what it was built from. */
function stampAs(stamp, value) {
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, value);
  chmodSync(stamp, readableByAll);
}

function* sourceFiles(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (['node_modules', '.next', 'dist', '.data'].includes(entry.name)) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* sourceFiles(path);
    else if (!/\.test\.tsx?$|\.tsbuildinfo$|^next-env\.d\.ts$/.test(entry.name)) yield path;
  }
}

/** Of everything in some folders that is no test, and of the packages that it is built with. */
function hashOfSources(folders) {
  const hash = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')));
  for (const folder of folders)
    for (const path of [...sourceFiles(join(root, folder))].sort())
      hash.update(relative(root, path)).update(statSync(path).size.toString()).update(readFileSync(path));
  return hash.digest('hex');
}

const askEveryMs = 500;

/** Installing and building, each by one start at a time in this checkout: the others wait, and find it done. */
export async function inTurn(what, work) {
  let isSaid = false;
  for (;;) {
    const lock = await takeLock(what, root);
    if (lock.isMine) {
      try {
        return await work();
      } finally {
        await lock.release();
      }
    }
    if (!isSaid)
      say(`Another start (process ${lock.holder?.pid ?? 'unknown'}) is working on the ${what} here; waiting for it …`);
    isSaid = true;
    await new Promise((resolve) => setTimeout(resolve, askEveryMs));
  }
}

/** Says what is begun, and when it is done how long it took. */
async function timed(what, work) {
  say(`${what} …`);
  const began = Date.now();
  await work();
  say(`${what}: done in ${Math.round((Date.now() - began) / 1000)} s.`);
}

/** Node on a file of ours or of a package. */
async function runNode(path, args, problem) {
  const code = await run(process.execPath, [join(root, path), ...args]);
  if (code !== 0) throw new Problem(`${problem}; see the messages above.`);
}

/** Whether this folder is a release: everything in it was built where it was made. */
export const isRelease = existsSync(join(root, 'release.json'));

const projects = ['core', 'tools', 'instruments', 'cli', 'front'];
const compiledStamp = join(root, 'core', 'dist', '.umbral-compiled');
const pagesStamp = join(root, 'web', '.next', 'umbral-built');
const hashOfCompiled = () => hashOfSources(projects);
const hashOfPages = () => hashOfSources(['core/src', 'web']);
const isBuilt = () => isStamped(compiledStamp, hashOfCompiled()) && isStamped(pagesStamp, hashOfPages());

/** Names what a release of these sources is called, without its ending. */
export function releaseName() {
  const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8'));
  const hash = createHash('sha256').update(hashOfCompiled()).update(hashOfPages()).digest('hex').slice(0, 12);
  return `umbral-${version}-${hash}-${process.platform}-${process.arch}`;
}

/** What a release has ready for a checkout of the same sources. */
const readyParts = ['node_modules', '*/node_modules', '*/dist', 'web/.next'];

/** Takes what is built from a release of the same sources that lies here or beside, where nothing is there yet. */
async function takeRelease() {
  if (existsSync(join(root, 'node_modules'))) return;
  const name = releaseName();
  const file = [root, dirname(root)].map((at) => join(at, `${name}.tar.gz`)).find((path) => existsSync(path));
  if (!file) return;
  await timed(`Taking what is built from ${file}`, async () => {
    const parts = readyParts.map((part) => `${name}/${part}`);
    const into = ['-C', root, '--strip-components=1', '--wildcards', '--no-wildcards-match-slash'];
    const { code, out } = await capture('tar', ['-xzf', file, ...into, ...parts]);
    if (code === 0) return;
    say(`${file} cannot be read and was left alone: ${out.trim()}`);
    // Half of the packages are none; they are fetched.
    rmSync(join(root, 'node_modules'), { recursive: true, force: true });
  });
}

/**
 * Installs the npm packages where they are missing or the lock file has changed.
 *
 * @param forWork also what only tests, checks and measuring need; without it what is there beyond that stays
 */
export const ensurePackages = ({ forWork = false } = {}) =>
  inTurn('packages', async () => {
    if (isRelease) {
      if (forWork) throw new Problem('This is a release. Tests, benchmarks and development need a clone.');
      return;
    }
    await import('../engine-version.mjs');
    if (!forWork) await takeRelease();
    const stamp = join(root, 'node_modules', '.umbral-installed');
    const wanted = hashOfPackages();
    const [all, forRunning] = [`${wanted} all`, `${wanted} for running`];
    // Of a release: without what only building needs.
    const isReady = isStamped(stamp, forRunning) || (isStamped(stamp, `${wanted} released`) && isBuilt());
    if (!isStamped(stamp, all) && (forWork || !isReady))
      await timed(`Installing npm packages${forWork ? '' : ' (those that running needs)'}`, async () => {
        const quiet = ['--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'];
        const code = await run('npm', ['ci', ...quiet, ...(forWork ? [] : ['--omit=dev'])]);
        if (code !== 0) throw new Problem('The npm packages could not be installed; see the messages above.');
        stampAs(stamp, forWork ? all : forRunning);
      });
  });

/** Turns core, instruments, command line and door into what Node runs, without checking types: `npm test` does that. */
export const ensureCompiled = () =>
  inTurn('core', async () => {
    if (isRelease || isStamped(compiledStamp, hashOfCompiled())) return;
    await runNode('node_modules/typescript/bin/tsc', ['-b', '--noCheck', ...projects], 'The core could not be built');
    await runNode('scripts/worlds.mjs', [], 'The device populations could not be built');
    // What was worked out only now stands beside the sources.
    stampAs(compiledStamp, hashOfCompiled());
  });

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
    ['/usr/bin/lxi', 'lxi-tools', 'with an ordinary SCPI client'],
    ['/usr/bin/socat', 'socat', 'over a serial port'],
    ['/usr/bin/mbpoll', 'mbpoll', 'with an ordinary Modbus client'],
    // The library does not start without the module that it only recommends.
    ['/usr/lib/python3/dist-packages/pymodbus', 'python3-pymodbus', 'with a foreign Modbus server'],
    ['/usr/lib/python3/dist-packages/serial_asyncio', 'python3-serial-asyncio', 'with a foreign Modbus server'],
  ]) {
    if (existsSync(program)) continue;
    if (isRoot) await ensureDebian([name], name).catch((error) => say(error.message));
    else say(`${name} is not installed: the tests ${what} are left out.`);
  }
}

/** Characters of a failed build that are shown. */
const shownOfBuild = 4000;

/** Builds the web application unless the last build was made from the same sources. */
export const ensureWebBuild = () => inTurn('pages', buildWeb);

async function buildWeb() {
  if (isRelease || isStamped(pagesStamp, hashOfPages())) return;
  await timed('Building the pages (about a minute)', async () => {
    const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' };
    const next = join(root, 'node_modules/next/dist/bin/next');
    const { code, out } = await capture(process.execPath, [next, 'build'], { cwd: join(root, 'web'), env });
    if (code !== 0) throw new Problem(`The pages could not be built:\n${out.slice(-shownOfBuild)}`);
    dropPublishedSource();
    stampAs(pagesStamp, hashOfPages());
  });
}

/** The bundler copies a worker's entry, as it was written, among the public files; nothing asks for it there. */
function dropPublishedSource() {
  const media = join(root, 'web', '.next', 'static', 'media');
  if (!existsSync(media)) return;
  for (const name of readdirSync(media)) if (/\.tsx?$/.test(name)) rmSync(join(media, name));
}
