// npm test: installs what is missing, then every check there is. Ends with "N passed, N failed".
// npm test -- interface [file …]: the real interface alone, or those of its files that are named.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureChromium, ensurePackages, ensureInstrumentTools, ensureWebBuild } from './lib/install.mjs';
import { freePort } from './lib/ports.mjs';
import { migrate, startCluster } from './lib/postgres.mjs';
import { main, Problem, root, run, say } from './lib/run.mjs';
import { startRecorder, startSimulatedBench } from './lib/recorder.mjs';
import { startWeb } from './lib/web.mjs';

const bin = (name) => join(root, 'node_modules', '.bin', name);
const counts = { passed: 0, failed: 0 };

async function step(name, work) {
  const began = Date.now();
  say(`\n— ${name}`);
  let ok = false;
  try {
    ok = await work();
  } catch (error) {
    say(String(error?.message ?? error));
  }
  say(`— ${name}: ${ok ? 'ok' : 'FAILED'} (${Math.round((Date.now() - began) / 1000)} s)`);
  return ok;
}

/** A check that passes or fails as a whole. */
async function check(name, work) {
  const ok = await step(name, work);
  counts[ok ? 'passed' : 'failed']++;
  return ok;
}

const exits0 = (command, args, options) => async () => (await run(command, args, options)) === 0;

function countJest(file) {
  const report = JSON.parse(readFileSync(file, 'utf8'));
  counts.passed += report.numPassedTests;
  counts.failed += report.numFailedTests + report.numRuntimeErrorTestSuites;
}

function countPlaywright(file) {
  const { stats } = JSON.parse(readFileSync(file, 'utf8'));
  counts.passed += stats.expected + stats.flaky;
  counts.failed += stats.unexpected;
  if (stats.flaky > 0) say(`${stats.flaky} of them passed only at the second try: see the report above`);
}

const [only, ...files] = process.argv.slice(2);
const isInterfaceOnly = only === 'interface';

main(async () => {
  if (only !== undefined && !isInterfaceOnly)
    throw new Problem(`There is no part "${only}"; expected "interface" and names of its files, or nothing for all.`);
  const scratch = mkdtempSync(join(tmpdir(), 'umbral-test-'));
  const stops = [];
  const cleanUp = async () => {
    for (const stop of stops.reverse()) await Promise.resolve(stop()).catch(() => undefined);
    stops.length = 0;
    rmSync(scratch, { recursive: true, force: true });
  };
  process.on('SIGINT', () => void cleanUp().then(() => process.exit(130)));
  process.on('SIGTERM', () => void cleanUp().then(() => process.exit(143)));
  try {
    await ensurePackages();
    await ensureChromium();
    await ensureInstrumentTools();
    const cluster = await startCluster(join(root, '.data', `test-${process.pid}`), { throwAway: true });
    stops.push(async () => {
      await cluster.stop();
      rmSync(cluster.home, { recursive: true, force: true });
      rmSync(join(root, '.data', `test-${process.pid}`), { recursive: true, force: true });
    });
    await migrate(cluster.ownerUrl, cluster.url);
    if (!isInterfaceOnly) {
      await check('types', async () => {
        const core = await exits0(bin('tsc'), ['-b', 'core', 'instruments', 'cli', 'front'])();
        await run(bin('next'), ['typegen'], { cwd: join(root, 'web'), stdio: 'ignore' });
        const web = await exits0(bin('tsc'), ['--noEmit', '-p', 'web'])();
        return core && web && (await exits0(bin('tsc'), ['--noEmit', '-p', 'e2e'])());
      });
      await check('lint', exits0(bin('eslint'), ['.', '--max-warnings', '0']));
      await check('format', exits0(bin('prettier'), ['--check', '--log-level', 'warn', '.']));
      await check('arrows between the rooms', exits0('npm', ['run', '--silent', 'arrows']));
      await check('accuracy on made-up cases', exits0('node', [join(root, 'scripts', 'evaluate.mjs'), '--check']));
      const env = {
        ...process.env,
        UMBRAL_TEST_DATABASE_URL: cluster.ownerUrl,
        NODE_OPTIONS: '--disable-warning=ExperimentalWarning',
      };
      const jest = (name, args) =>
        step(name, async () => {
          const report = join(scratch, 'jest.json');
          const ok = await exits0(bin('jest'), ['--silent', '--json', `--outputFile=${report}`, ...args], { env })();
          countJest(report);
          return ok;
        });
      const workers = `--maxWorkers=${Math.min(8, availableParallelism())}`;
      await jest('unit tests: core, command line, web', [workers, '--selectProjects', 'core', 'cli', 'front', 'web']);
      // Instruments keep time with each other: beside nothing else.
      // Connections that fetch keeps for later must not keep the whole test from going on.
      await jest('unit tests: instruments', ['--runInBand', '--forceExit', '--selectProjects', 'instruments']);
    }
    if (await check('build', async () => (await ensureWebBuild(), true))) {
      const port = await freePort();
      const bench = await startSimulatedBench();
      stops.push(() => bench.stop());
      const recorder = await startRecorder({ folder: scratch, databaseUrl: cluster.url, bench });
      stops.push(() => recorder.stop());
      const env = { ...recorder.env, UMBRAL_DEMO: 'yes', UMBRAL_DATA_FOLDER: scratch };
      const web = await startWeb({ port, databaseUrl: cluster.url, quiet: true, env });
      stops.push(() => web.stop());
      const report = join(scratch, 'playwright.json');
      const playwrightEnv = {
        ...process.env,
        // For the tests that start an application of their own, to end it in the middle.
        ...env,
        UMBRAL_URL: web.url,
        PLAYWRIGHT_JSON_OUTPUT_NAME: report,
        UMBRAL_TEST_DATABASE_URL: cluster.url,
      };
      await step(
        'the real interface',
        exits0(bin('playwright'), ['test', ...files], { cwd: join(root, 'e2e'), env: playwrightEnv }),
      );
      countPlaywright(report);
    }
  } catch (error) {
    counts.failed++;
    say(error?.stack ?? String(error));
  }
  await cleanUp();
  say(`\n${counts.passed} passed, ${counts.failed} failed`);
  process.exit(counts.failed === 0 ? 0 : 1);
});
