// npm run demo, npm start and npm run dev: from a fresh clone to a running application, everything stopped on Ctrl-C.
import { accessSync, constants, existsSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { ensureCompiled, ensurePackages, ensureWebBuild } from './lib/install.mjs';
import { endProcess, keepRunning } from './lib/keep.mjs';
import { becomesFree, freePort } from './lib/ports.mjs';
import { beginCluster, ensurePrograms, ownFolder, startCluster } from './lib/postgres.mjs';
import { migrate } from './lib/schema.mjs';
import { firstLead } from './lib/people.mjs';
import { watchParents } from './lib/parents.mjs';
import { main, Problem, root, say } from './lib/run.mjs';
import { startRecorder, startSimulatedBench } from './lib/recorder.mjs';
import { Status } from './lib/status.mjs';
import { watchSources } from './lib/watch.mjs';
import { startWeb } from './lib/web.mjs';

const { holderOf, takeLock } = createRequire(import.meta.url)('../instruments/plain/lock.cjs');

const { values } = parseArgs({
  options: {
    demo: { type: 'boolean', default: false },
    dev: { type: 'boolean', default: false },
    port: { type: 'string' },
    data: { type: 'string' },
    'pages-only': { type: 'boolean', default: false },
  },
});
const isDemo = values.demo || values.dev;

/** The data folder, there and writable. */
function dataFolder() {
  const usual = values.dev ? '.data/dev' : '.data/umbral';
  const folder = resolve(root, values.data ?? process.env.UMBRAL_DATA ?? usual);
  try {
    ownFolder(folder);
    accessSync(folder, constants.R_OK | constants.W_OK | constants.X_OK);
  } catch (error) {
    throw new Problem(
      `The data folder ${folder} cannot be written (${error.code ?? error.message}). Give another with --data.`,
    );
  }
  return folder;
}

async function takeFolder(folder) {
  const lock = await takeLock('start', folder);
  if (lock.isMine) return lock;
  const { url, pid } = lock.holder ?? {};
  throw new Problem(
    `Umbral already runs on this data folder${url ? `, at ${url}` : pid ? `, as process ${pid}` : ''}. ` +
      'Stop it first, or give another --port and --data. The running one was not changed.',
  );
}

/** A web process that an earlier start of this folder left behind on the port is ended. */
async function endLeftWeb(folder, port) {
  const left = await holderOf(`web-${port}`, folder);
  if (!left) return;
  say(`A web process from an earlier start is still running (process ${left.pid}). Stopping it.`);
  await endProcess(left.pid);
}

function wantedPort() {
  const wanted = values.port ?? process.env.UMBRAL_PORT;
  const port = Number(wanted ?? 4300);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Problem(`"${wanted}" is not a port; expected a number from 1 to 65535.`);
  return { port, isAsked: wanted !== undefined };
}

/** The database of the environment, or one of our own that is kept running. */
async function startDatabase(folder, status, stops) {
  const { DATABASE_URL: url, DATABASE_OWNER_URL: ownerUrl = url } = process.env;
  if (url) return { url, ownerUrl, isNew: true };
  const cluster = await startCluster(folder);
  const kept = await keepRunning('The database', () => beginCluster(cluster), status.of('database'));
  stops.push(() => kept.stop());
  return cluster;
}

async function startBench(status, stops) {
  if (!isDemo || values['pages-only']) return null;
  const bench = await startSimulatedBench(status.of('simulated bench'));
  stops.push(() => bench.stop());
  return bench;
}

/** In the place of a recorder: the pages say where the instruments are. */
const pagesOnly = { env: { UMBRAL_PAGES_ONLY: 'yes' }, restart: () => undefined };

/** Who commands the instruments of a database holds this lock of it (instruments/src/recorder/database-link.ts). */
const recorderLock = 471_400_001;

/** Whether a recorder that somebody else started commands the instruments of this database already. */
async function isRecorderElsewhere(databaseUrl) {
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: databaseUrl, pool: { min: 0, max: 1 } });
  try {
    const { rows } = await db.raw(
      `SELECT 1 FROM pg_locks WHERE locktype = 'advisory' AND granted AND classid = 0 AND objid = ?
         AND database = (SELECT oid FROM pg_database WHERE datname = current_database())`,
      [recorderLock],
    );
    return rows.length > 0;
  } finally {
    await db.destroy();
  }
}

/** The recorder; none where only pages are wanted, or where another start has one already. */
async function startInstruments({ folder, databaseUrl, bench, status, stops }) {
  if (values['pages-only']) return pagesOnly;
  // One of our own folder that an earlier start left behind is ended and followed instead.
  const own = join(folder, 'recorder');
  const isOurs = existsSync(own) && (await holderOf('recorder', own)) !== null;
  if (!isOurs && (await isRecorderElsewhere(databaseUrl))) {
    say('The instruments of this database are controlled by another start of Umbral. This one shows the pages only.');
    return pagesOnly;
  }
  const recorder = await startRecorder({ folder, databaseUrl, bench, changed: status.of('recorder') });
  stops.push(() => recorder.stop());
  if (values.dev) stops.push(watchSources(() => Promise.all([bench?.restart(), recorder.restart()])));
  return recorder;
}

async function startPages({ folder, port, databaseUrl, recorder, status, stops }) {
  const webPort = await freePort(port);
  const env = {
    ...recorder.env,
    UMBRAL_DATA_FOLDER: folder,
    ...(values.dev ? {} : { UMBRAL_LOGS: join(folder, 'logs') }),
    ...(isDemo ? { UMBRAL_DEMO: 'yes' } : {}),
  };
  const kept = await keepRunning(
    'The web application',
    () => startWeb({ port: webPort, databaseUrl, development: values.dev, env }),
    status.of('web application'),
  );
  stops.push(() => kept.stop());
  return kept.now().url;
}

/** Asks the application for something of the demo. */
async function loadSample(url, path, what) {
  const answer = await fetch(`${url}${path}`, { method: 'POST' });
  if (!answer.ok) throw new Problem(`${what} could not be loaded: ${await answer.text()}`);
}

/** Nothing where it was loaded before. */
const loadFleet = (url) => loadSample(url, '/api/sample-data', 'The sample fleet');

const tellEveryMs = 5000;

/** A year of closed jobs, behind whoever works already; a start that was ended before begins it anew. */
async function loadYear(url) {
  let said = '';
  const timer = setInterval(async () => {
    const { value } = await fetch(`${url}/api/sample-year`).then(
      (answer) => answer.json(),
      () => ({}),
    );
    const now = value ? `The sample year is loading: ${Math.floor((100 * value.done) / value.of)} %.` : said;
    if (now !== said) say((said = now));
  }, tellEveryMs);
  await loadSample(url, '/api/sample-year', 'The sample year').finally(() => clearInterval(timer));
  if (said) say('The sample year is loaded.');
}

main(async () => {
  const { port, isAsked } = wantedPort();
  const folder = dataFolder();
  const lock = await takeFolder(folder);
  await endLeftWeb(folder, port);
  if (!(await becomesFree(port, isAsked ? 5000 : 1000)) && isAsked)
    throw new Problem(`Port ${port} is in use. Choose another with --port.`);
  const status = new Status(folder);
  const stops = [];
  let stopping = false;
  const stopAll = async (code) => {
    if (stopping) return;
    stopping = true;
    for (const stop of stops.reverse()) await Promise.resolve(stop()).catch(() => undefined);
    status.remove();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stopAll(0));
  watchParents(() => void stopAll(0));
  try {
    await Promise.all([ensurePackages({ forWork: values.dev }), process.env.DATABASE_URL ? null : ensurePrograms()]);
    const [pages, compiled] = [values.dev ? null : ensureWebBuild(), ensureCompiled()];
    // Whoever waits for the one still hears of the other.
    for (const part of [pages, compiled]) part?.catch(() => undefined);
    // Whatever is written from here on is of the shop: for nobody else on this computer.
    process.umask(0o077);
    const [{ url: databaseUrl, ownerUrl, isNew }, bench] = await Promise.all([
      startDatabase(folder, status, stops),
      compiled.then(() => startBench(status, stops)),
    ]);
    await migrate(ownerUrl, databaseUrl);
    const recorder = await startInstruments({ folder, databaseUrl, bench, status, stops });
    await pages;
    const url = await startPages({ folder, port, databaseUrl, recorder, status, stops });
    if (isDemo && isNew) await loadFleet(url);
    lock.tell({ url });
    say(`\n  Umbral is at ${url}\n  Ctrl-C stops everything.\n`);
    if (values.dev)
      say('  Pages, core and instruments reload when their sources change. You are signed in automatically.\n');
    else if (isDemo) say('  This is the demo. You are signed in automatically, on this computer only.\n');
    else await firstLead(ownerUrl, url);
    if (isDemo)
      await loadFleet(url)
        .then(() => loadYear(url))
        .catch((error) => stopping || say(error.message));
  } catch (error) {
    if (stopping) return;
    process.stderr.write(error instanceof Problem ? `\n${error.message}\n` : `\n${error?.stack ?? error}\n`);
    await stopAll(1);
  }
});
