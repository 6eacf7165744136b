// npm test: installs what is missing, then every check there is. Ends with "N passed, N failed".
// npm test -- unit | web | e2e | changed: a part of it. What follows the name goes to the part: files, or options of Jest.
// npm run nightly: that the tools of whoever works on it run to their end.
// npm test -- all --durations: writes down how long each piece took; the longest begin first.
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureChromium, ensureCompiled, ensurePackages, ensureInstrumentTools } from './lib/install.mjs';
import { startCluster } from './lib/postgres.mjs';
import { keepNight, sayNight } from './lib/nightly.mjs';
import { main, Problem, say } from './lib/run.mjs';
import { Steps } from './lib/steps.mjs';
import {
  build,
  checkAccuracy,
  checkSources,
  endAll,
  endCluster,
  inLanes,
  instrumentTests,
  interfaceTests,
  keepDurations,
  toolTests,
  unitTests,
} from './lib/test-parts.mjs';

const [part, ...given] = process.argv.slice(2);
const rest = given.filter((name) => name !== '--durations');
/** How much of the core the tests walk through; asked for where all of it is run. */
const coverage = [
  '--coverage',
  '--coverageProvider=v8',
  '--coverageReporters=text-summary',
  '--collectCoverageFrom=core/src/**/*.ts',
  '--collectCoverageFrom=!core/src/{testing,made-up,sketch}/**',
  '--collectCoverageFrom=!**/*.test.ts',
];
const workers = `--maxWorkers=${availableParallelism()}`;

/** A database for the unit tests: each of their files makes a schema of its own in it. */
async function startDatabase({ scratch, stops }) {
  const cluster = await startCluster(join(scratch, 'unit'), { throwAway: true });
  stops.push(() => endCluster(cluster));
  return cluster.ownerUrl;
}

const parts = {
  /** The core, the command line, the door and the instruments. */
  unit: async (steps, place) => {
    const { scratch } = place;
    const databaseUrl = await startDatabase(place);
    const given = { databaseUrl, scratch, args: rest };
    const projects = ['core', 'tools', 'cli', 'front'];
    const args = [workers, ...(rest.length === 0 ? coverage : []), ...rest];
    await unitTests(steps, 'unit tests: core, command line, door', { ...given, projects, args });
    await instrumentTests(steps, given);
  },
  /** What is behind the pages, against the real database. */
  web: async (steps, place) => {
    const { scratch } = place;
    const databaseUrl = await startDatabase(place);
    await unitTests(steps, 'unit tests: web', {
      databaseUrl,
      scratch,
      projects: ['web', 'screens'],
      args: [workers, ...rest],
    });
  },
  /** The real interface, or those of its files that are named. */
  e2e: async (steps, place) => {
    if (!(await build(steps))) return;
    await inLanes(steps, await interfaceTests(steps, { ...place, wanted: rest }), place);
  },
  /** The tools of whoever works on it: as part of every run they took a fifth of it. */
  nightly: async (steps, place) => {
    await inLanes(steps, toolTests(steps), place);
    keepNight(steps);
  },
  /** Unit tests that what is not committed touches, after types and lint. */
  changed: async (steps, place) => {
    const { scratch } = place;
    await checkSources(steps);
    const databaseUrl = await startDatabase(place);
    const projects = ['core', 'tools', 'cli', 'front', 'web', 'screens', 'instruments'];
    const args = ['--onlyChanged', workers, ...rest];
    await unitTests(steps, 'unit tests of what changed', { databaseUrl, scratch, projects, args });
  },
  /** Everything. */
  all: async (steps, place) => {
    const { scratch } = place;
    const databaseUrl = await startDatabase(place);
    const given = { databaseUrl, scratch };
    const projects = ['core', 'tools', 'cli', 'front', 'web', 'screens'];
    await Promise.all([
      checkSources(steps).then(() => checkAccuracy(steps)),
      unitTests(steps, 'unit tests: core, command line, door, web', { ...given, projects, args: [workers] }),
    ]);
    const instruments = { name: 'instruments', work: () => instrumentTests(steps, given) };
    const isBuilt = await build(steps);
    await inLanes(steps, [instruments, ...(isBuilt ? await interfaceTests(steps, place) : [])], place);
    say(`\n${sayNight()}`);
  },
};

main(async () => {
  if (part !== undefined && !Object.hasOwn(parts, part))
    throw new Problem(
      `There is no part "${part}"; expected unit, web, e2e, nightly, changed or all. Without a part, all run.`,
    );
  const scratch = mkdtempSync(join(tmpdir(), 'umbral-test-'));
  // The database's own user has to get there.
  chmodSync(scratch, 0o755);
  const steps = new Steps();
  const stops = [];
  const cleanUp = async () => {
    steps.stop();
    await endAll(stops);
    rmSync(scratch, { recursive: true, force: true });
  };
  process.on('SIGINT', () => void cleanUp().then(() => process.exit(130)));
  process.on('SIGTERM', () => void cleanUp().then(() => process.exit(143)));
  const began = Date.now();
  try {
    await ensurePackages({ forWork: true });
    await ensureCompiled();
    if ([undefined, 'all', 'e2e', 'nightly'].includes(part)) await ensureChromium();
    if ([undefined, 'all', 'unit'].includes(part)) await ensureInstrumentTools();
    await parts[part ?? 'all'](steps, { scratch, stops });
    await steps.tryAgain();
    if (given.includes('--durations')) keepDurations(steps.taken);
  } catch (error) {
    steps.failures.push('the run itself');
    say(error?.stack ?? String(error));
  }
  await cleanUp();
  if (steps.passedAlone.length > 0)
    say(`\nPassed only when tried once more, alone:\n${steps.passedAlone.map((name) => `  ${name}`).join('\n')}`);
  if (steps.failed > 0)
    say(`\nWhat failed:\n${steps.failures.map((name) => `  ${name}\n${steps.why.get(name) ?? ''}`).join('\n')}`);
  say(`\n${steps.passed} passed, ${steps.failed} failed in ${Math.round((Date.now() - began) / 60_000)} min`);
  process.exit(steps.failed === 0 ? 0 : 1);
});
