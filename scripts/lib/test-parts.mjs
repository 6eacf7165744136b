// The parts of a test run. Each takes the steps it counts in and what it needs of the machine.
import { readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { ensureWebBuild } from './install.mjs';
import { freePort } from './ports.mjs';
import { migrate, startCluster } from './postgres.mjs';
import { startRecorder, startSimulatedBench } from './recorder.mjs';
import { root } from './run.mjs';
import { startWeb } from './web.mjs';

const bin = (name) => join(root, 'node_modules', '.bin', name);
const quiet = { NODE_OPTIONS: '--disable-warning=ExperimentalWarning' };

/** Types, lint, format, arrows between the rooms, accuracy: what needs no database. */
export async function checkSources(steps) {
  await steps.check('types', async (run) => {
    const core = await run(bin('tsc'), ['-b', 'core', 'instruments', 'cli', 'front']);
    await run(bin('next'), ['typegen'], { cwd: join(root, 'web'), stdio: 'ignore' });
    const rest = [
      ['-p', 'tsconfig.tests.json'],
      ['--noEmit', '-p', 'web'],
      ['--noEmit', '-p', 'e2e'],
    ];
    let ok = core === 0;
    for (const args of rest) ok = (await run(bin('tsc'), args)) === 0 && ok;
    return ok;
  });
  await steps.check('lint', async (run) => (await run(bin('eslint'), ['.', '--max-warnings', '0'])) === 0);
  await steps.check(
    'format',
    async (run) => (await run(bin('prettier'), ['--check', '--log-level', 'warn', '.'])) === 0,
  );
  await steps.check('arrows between the rooms', async (run) => (await run('npm', ['run', '--silent', 'arrows'])) === 0);
}

/** How often the engine is right over made-up cases, against the figures that it must not fall under. */
export function checkAccuracy(steps) {
  return steps.check(
    'accuracy on made-up cases',
    async (run) => (await run('node', [join(root, 'scripts', 'evaluate.mjs'), '--check'])) === 0,
  );
}

/**
 * Unit tests of some workspaces.
 *
 * @param databaseUrl of the owner; each file of tests makes a schema of its own
 */
export function unitTests(steps, name, { databaseUrl, scratch, projects, args = [] }) {
  return steps.step(name, async (run) => {
    const report = join(scratch, `jest-${projects.join('-')}.json`);
    const given = [
      '--silent',
      '--passWithNoTests',
      '--json',
      `--outputFile=${report}`,
      ...args,
      '--selectProjects',
      ...projects,
    ];
    const env = { ...process.env, ...quiet, UMBRAL_TEST_DATABASE_URL: databaseUrl };
    const code = await run(bin('jest'), given, { env });
    const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(report, 'utf8'));
    steps.passed += numPassedTests;
    steps.failed += numFailedTests + numRuntimeErrorTestSuites;
    return code === 0;
  });
}

/** The instruments keep time with each other: one file after another. Connections that fetch keeps must not hold the run. */
export const instrumentTests = (steps, options) =>
  unitTests(steps, 'unit tests: instruments', {
    ...options,
    projects: ['instruments'],
    args: ['--runInBand', '--forceExit', ...(options.args ?? [])],
  });

export const build = (steps) => steps.check('build', async () => (await ensureWebBuild(), true));

/** Stops a throw-away database and takes away what it kept, wherever that lies. */
export async function endCluster(cluster) {
  await cluster.stop();
  rmSync(cluster.home, { recursive: true, force: true });
}

/**
 * The simulated device starts so many times as fast as a real one; what it shows carries its own times. A film that a camera
 * is shown does not: its pages keep the time of the wall, and the recorder has to keep the same.
 */
const timeFactorOf = (name) => (name === 'camera' ? 1 : 3);

/** A database, a recorder, a simulated bench and pages, beside any number of others; `stops` ends them, last first. */
async function startStack(folder, stops, timeFactor) {
  const cluster = await startCluster(folder, { throwAway: true });
  stops.push(() => endCluster(cluster));
  await migrate(cluster.ownerUrl, cluster.url);
  const bench = await startSimulatedBench(undefined, timeFactor);
  stops.push(() => bench.stop());
  const recorder = await startRecorder({ folder, databaseUrl: cluster.url, bench, timeFactor });
  stops.push(() => recorder.stop());
  const env = { ...recorder.env, UMBRAL_DEMO: 'yes', UMBRAL_DATA_FOLDER: folder };
  const web = await startWeb({ port: await freePort(), databaseUrl: cluster.url, quiet: true, env });
  stops.push(() => web.stop());
  // For the tests that start an application of their own, to end it in the middle.
  return { ...process.env, ...env, UMBRAL_URL: web.url, UMBRAL_TEST_DATABASE_URL: cluster.url };
}

/** Ends what was started, last first; whatever cannot be ended does not keep the rest. */
export async function endAll(stops) {
  for (const stop of stops.splice(0).reverse()) await Promise.resolve(stop()).catch(() => undefined);
}

/** The files of the interface tests, the longest first by their size: what is left at the end is short. */
function interfaceFiles(wanted) {
  const folder = join(root, 'e2e/tests');
  const all = readdirSync(folder).filter((name) => name.endsWith('.spec.ts'));
  const chosen = all.filter(
    (name) => wanted.length === 0 || wanted.some((w) => name.startsWith(w.replace(/^tests\//, ''))),
  );
  return chosen.sort((a, b) => statSync(join(folder, b)).size - statSync(join(folder, a)).size);
}

function countPlaywright(steps, file) {
  const { stats } = JSON.parse(readFileSync(file, 'utf8'));
  // A second try tells a slow machine from a broken page in the report; a pass at the second try is no pass.
  steps.passed += stats.expected;
  steps.failed += stats.unexpected + stats.flaky;
  return stats.unexpected + stats.flaky === 0;
}

/**
 * The real interface, in lanes, each of which takes the next file when it is done with one. Every file has an application
 * of its own from an empty database: what one file leaves behind is not there for the next.
 *
 * @param wanted names of files, or of their beginnings; none for all
 */
export async function interfaceTests(
  steps,
  { scratch, stops, wanted = [], lanes = Math.min(2, availableParallelism()) },
) {
  const files = interfaceFiles(wanted);
  const lane = async (own) => {
    for (let file = files.shift(); file; file = files.shift()) {
      const name = file.replace('.spec.ts', '');
      await steps.step(`the real interface: ${name}`, async (run) => {
        const env = await startStack(join(scratch, `stack-${name}`), own, timeFactorOf(name));
        const report = join(scratch, `${name}.json`);
        const output = join(scratch, `output-${name}`);
        await run(bin('playwright'), ['test', `tests/${name}.spec.ts`, '--output', output], {
          cwd: join(root, 'e2e'),
          env: { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: report },
        });
        return countPlaywright(steps, report);
      });
      await endAll(own);
    }
  };
  const count = Math.min(lanes, files.length);
  await Promise.all(
    Array.from({ length: count }, () => {
      const own = [];
      stops.push(() => endAll(own));
      return lane(own);
    }),
  );
}
