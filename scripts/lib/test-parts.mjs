// The parts of a test run. Each takes the steps it counts in and what it needs of the machine.
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join, relative } from 'node:path';
import { ensureWebBuild } from './install.mjs';
import { startCluster } from './postgres.mjs';
import { migrate } from './schema.mjs';
import { startRecorder, startSimulatedBench } from './recorder.mjs';
import { Problem, root } from './run.mjs';
import { startWeb } from './web.mjs';

const bin = (name) => join(root, 'node_modules', '.bin', name);
const quiet = { NODE_OPTIONS: '--disable-warning=ExperimentalWarning' };

/** Types, lint, format, arrows between the rooms, accuracy: what needs no database. */
export async function checkSources(steps) {
  await steps.check('types', async (run) => {
    await run(bin('next'), ['typegen'], { cwd: join(root, 'web'), stdio: 'ignore' });
    // The core by itself once more: it knows neither Node nor a browser.
    const core = await run(bin('tsc'), ['-b', 'core']);
    return (await run(bin('tsc'), ['-p', 'tsconfig.tests.json'])) === 0 && core === 0;
  });
  await steps.check('lint', async (run) => (await run(bin('eslint'), ['.', '--max-warnings', '0'])) === 0);
  await steps.check(
    'format',
    async (run) => (await run(bin('prettier'), ['--check', '--log-level', 'warn', '.'])) === 0,
  );
  await steps.check(
    'the house',
    async (run) => (await run('node', [join(root, 'scripts', 'house.mjs'), '--check'])) === 0,
  );
  await steps.check(
    'plain words',
    async (run) => (await run('node', [join(root, 'scripts', 'words.mjs'), '--check'])) === 0,
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

/** A file of unit tests that is through before this begins whenever it likes. */
const shortMs = 8000;

/**
 * Unit tests of some workspaces.
 *
 * @param databaseUrl of the owner; each file of tests makes a schema of its own
 */
export function unitTests(steps, name, { databaseUrl, scratch, projects, args = [] }) {
  const env = { ...process.env, ...quiet, UMBRAL_TEST_DATABASE_URL: databaseUrl };
  const report = join(scratch, `jest-${projects.join('-')}.json`);
  const jest = async (run, options) => {
    const given = [
      '--silent',
      '--passWithNoTests',
      '--json',
      `--outputFile=${report}`,
      '--selectProjects',
      ...projects,
    ];
    await run(bin('jest'), [...given, ...options], { env });
    return countJest(steps, report);
  };
  return steps.step(
    name,
    (run) => jest(run, args),
    (run, failed) =>
      jest(run, [
        '--runInBand',
        '--forceExit',
        '--runTestsByPath',
        ...new Set(failed.map((test) => test.split(': ', 1)[0])),
      ]),
  );
}

function countJest(steps, report) {
  const { numPassedTests, testResults } = JSON.parse(readFileSync(report, 'utf8'));
  rmSync(report);
  const failed = testResults.flatMap(({ name: path, startTime, endTime, status, assertionResults }) => {
    const file = relative(root, path);
    if (endTime - startTime > shortMs) steps.taken[file] = Math.round((endTime - startTime) / 1000);
    const tests = assertionResults
      .filter((test) => test.status === 'failed')
      .map((test) => steps.because(`${file}: ${test.fullName}`, test.failureMessages.join('\n')));
    return tests.length === 0 && status === 'failed' ? [`${file}: does not run`] : tests;
  });
  return { passed: numPassedTests, failed };
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
async function startStack({ cluster, name, place, folder, stops }) {
  const timeFactor = timeFactorOf(name);
  const databaseUrl = await cluster.copy(place);
  const bench = await startSimulatedBench(undefined, timeFactor);
  stops.push(() => bench.stop());
  const recorder = await startRecorder({ folder, databaseUrl, bench, timeFactor });
  stops.push(() => recorder.stop());
  const env = { ...recorder.env, UMBRAL_DEMO: 'yes', UMBRAL_DATA_FOLDER: folder };
  const web = await startWeb({ databaseUrl, quiet: true, env });
  stops.push(() => web.stop());
  // For the tests that start an application of their own, to end it in the middle.
  return { ...process.env, ...env, UMBRAL_URL: web.url, UMBRAL_TEST_DATABASE_URL: databaseUrl };
}

/** Ends what was started, last first; whatever cannot be ended does not keep the rest. */
export async function endAll(stops) {
  for (const stop of stops.splice(0).reverse()) await Promise.resolve(stop()).catch(() => undefined);
}

/** How long each piece took when it was last written down, s: `npm test -- all --durations`. */
const durationsFile = join(root, 'scripts', 'lib', 'durations.json');
/** More than any takes. */
const untimed = 1e6;
const durations = JSON.parse(readFileSync(durationsFile, 'utf8'));

/** Writes down how long the pieces took. */
export function keepDurations(taken) {
  const kept = Object.entries({ ...durations, ...taken }).sort(([a], [b]) => (a < b ? -1 : 1));
  writeFileSync(durationsFile, `${JSON.stringify(Object.fromEntries(kept), null, 2)}\n`);
}

/** The files of the interface tests, or those of them that are named: by what their names begin with. */
function interfaceFiles(wanted) {
  const all = readdirSync(join(root, 'e2e/tests')).flatMap((name) =>
    name.endsWith('.spec.ts') ? [name.replace('.spec.ts', '')] : [],
  );
  if (wanted.length === 0) return all;
  const named = wanted.map((w) => {
    const begins = w.replace(/^tests\/|\.spec(\.ts)?$/g, '');
    const files = all.filter((name) => name.startsWith(begins));
    if (files.length === 0)
      throw new Problem(`No interface test begins with "${begins}"; there are ${all.join(', ')}.`);
    return files;
  });
  return [...new Set(named.flat())];
}

function countPlaywright(steps, file) {
  const { stats, suites } = JSON.parse(readFileSync(file, 'utf8'));
  rmSync(file);
  const failedIn = ({ specs = [], suites: inner = [], file }) => [
    ...specs
      .filter((spec) => !spec.ok)
      .map((spec) => steps.because(`${file}: ${spec.title}`, spec.tests.flatMap(errorsOf).join('\n'))),
    ...inner.flatMap(failedIn),
  ];
  return { passed: stats.expected, failed: suites.flatMap(failedIn) };
}

const errorsOf = ({ results }) =>
  results.flatMap(({ errors }) => errors.map((e) => `${e.message}\n${e.snippet ?? ''}`));

/** Tools of whoever works on it, in the smallest size: a measurement that nobody runs does not run when it is needed. */
const tools = {
  // Two at once: its parts by turns.
  'bench, one half': [['scripts/bench.mjs', '--smallest', '--half', '0']],
  'bench, other half': [['scripts/bench.mjs', '--smallest', '--half', '1']],
  mutation: [['scripts/mutation.mjs', 'inference/log-space']],
  pictures: [['scripts/pictures.mjs', '--smallest']],
  evaluate: [
    ['--cases', '4', '--quiet'],
    ['--whole', '--cases', '2'],
    ['--learn', '1'],
    ['--patterns', '600'],
    ['--healthy', '24'],
  ].map((args) => ['scripts/evaluate.mjs', ...args]),
};

/** That every tool runs to its end. */
export const toolTests = (steps) =>
  Object.entries(tools).map(([name, commands]) => ({
    name: `tool ${name}`,
    work: () =>
      steps.check(`the tool: ${name}`, async (run) => {
        for (const args of commands) if ((await run('node', args)) !== 0) return false;
        return true;
      }),
  }));

/**
 * The real interface: every file has an application and a database of its own, copied from an empty one, so that what one
 * leaves behind is not there for the next.
 *
 * @param wanted names of files, or of their beginnings; none for all
 */
export async function interfaceTests(steps, { scratch, stops, wanted = [] }) {
  const cluster = await startCluster(join(scratch, 'interface'), { throwAway: true });
  stops.push(() => endCluster(cluster));
  await migrate(cluster.ownerUrl, cluster.url);
  const test =
    (name, own, place = name) =>
    async (run) => {
      const env = await startStack({ cluster, name, place, folder: join(scratch, `stack-${place}`), stops: own });
      const report = join(scratch, `${place}.json`);
      const output = join(scratch, `output-${place}`);
      await run(bin('playwright'), ['test', `tests/${name}.spec.ts`, '--output', output], {
        cwd: join(root, 'e2e'),
        env: { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: report },
      });
      return countPlaywright(steps, report);
    };
  let times = 0;
  const alone = (name) => async (run) => {
    const own = [];
    stops.push(() => endAll(own));
    return test(name, own, `${name}-again-${++times}`)(run).finally(() => endAll(own));
  };
  return interfaceFiles(wanted).map((name) => ({
    name,
    work: (own) => steps.step(`the real interface: ${name}`, test(name, own), alone(name)),
  }));
}

/**
 * Works in lanes, each of which takes the next piece when it is done with one: the longest first, and before them those that
 * nobody has timed, so that what is left at the end is short.
 */
export async function inLanes(steps, pieces, { stops, lanes = Math.min(2, availableParallelism()) }) {
  const left = [...pieces].sort((a, b) => (durations[b.name] ?? untimed) - (durations[a.name] ?? untimed));
  const lane = async (own) => {
    for (let piece = left.shift(); piece; piece = left.shift()) {
      const began = Date.now();
      await piece.work(own);
      await endAll(own);
      steps.taken[piece.name] = Math.round((Date.now() - began) / 1000);
    }
  };
  await Promise.all(
    Array.from({ length: Math.min(lanes, pieces.length) }, () => {
      const own = [];
      stops.push(() => endAll(own));
      return lane(own);
    }),
  );
}
