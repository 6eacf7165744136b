import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { capture, Problem, root, say } from './run.mjs';
import { ensureDebian } from './install.mjs';
import { freePort } from './ports.mjs';

const require = createRequire(import.meta.url);
const { writeWhole } = require('../../instruments/plain/write-whole.cjs');
const { applyCatalogues } = require('../../web/server/catalogue-constraints.cjs');
const isRoot = process.getuid?.() === 0;
const account = 'postgres';

function findPrograms() {
  const base = '/usr/lib/postgresql';
  const versions = existsSync(base) ? readdirSync(base).sort((a, b) => Number(b) - Number(a)) : [];
  const folders = [...versions.map((v) => join(base, v, 'bin')), ...(process.env.PATH ?? '').split(':')];
  return (
    folders.find((f) => f && ['initdb', 'pg_ctl', 'postgres', 'pg_isready'].every((p) => existsSync(join(f, p)))) ??
    null
  );
}

async function ensurePrograms() {
  const found = findPrograms();
  if (found) return found;
  if (isRoot && !existsSync('/etc/postgresql-common/createcluster.conf')) {
    // Debian would start a cluster of its own beside ours.
    mkdirSync('/etc/postgresql-common', { recursive: true });
    writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
  }
  await ensureDebian(['postgresql'], 'the PostgreSQL server');
  const now = findPrograms();
  if (!now)
    throw new Problem('PostgreSQL was installed, but its server programs are not in /usr/lib/postgresql/*/bin.');
  return now;
}

/** Runs a server program, as an unprivileged user where we are root. */
function asServerUser(program, args) {
  const env = { ...process.env, LC_ALL: 'C.UTF-8' };
  return isRoot
    ? capture('runuser', ['-u', account, '--', program, ...args], { cwd: '/', env })
    : capture(program, args, { cwd: '/', env });
}

/** The data folder, moved where the server's user can reach it if the project lies in a closed folder. */
async function reachableFolder(wanted) {
  mkdirSync(wanted, { recursive: true });
  if (!isRoot) return wanted;
  await capture('chown', [account, wanted]);
  const walkable = await capture('runuser', ['-u', account, '--', 'test', '-w', wanted], { cwd: '/' });
  if (walkable.code === 0) return wanted;
  const hash = createHash('sha256').update(wanted).digest('hex').slice(0, 12);
  const other = `/var/tmp/umbral-${hash}`;
  mkdirSync(other, { recursive: true });
  await capture('chown', [account, other]);
  say(`The database cannot reach ${wanted} as the user "${account}"; its data lies in ${other}.`);
  return other;
}

/** Whether a cluster was made for this data folder before. */
export async function hasCluster(folder) {
  return existsSync(folder) && existsSync(join(await reachableFolder(folder), 'cluster', 'PG_VERSION'));
}

async function isReady(bin, port) {
  const { code } = await capture(join(bin, 'pg_isready'), ['-q', '-h', '127.0.0.1', '-p', String(port)]);
  return code === 0;
}

/** True where the server on this port is the one of this folder: its own pid file names the port. */
function runsHere(cluster, port) {
  const pidFile = join(cluster, 'postmaster.pid');
  if (!existsSync(pidFile)) return false;
  const [pid, , , recorded] = readFileSync(pidFile, 'utf8').split('\n');
  if (Number(recorded) !== port) return false;
  try {
    process.kill(Number(pid), 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/** The name under which the application works; it owns nothing in the database. */
const applicationRole = 'umbral_app';

function readSettings(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new Problem(
      `${file} cannot be read (${error.message}). It holds the database's password; put it back from a backup of the folder.`,
    );
  }
}

async function makeCluster(bin, home, cluster, settingsFile) {
  const password = randomBytes(18).toString('base64url');
  const passwordFile = join(home, 'password');
  writeFileSync(passwordFile, password, { mode: 0o600 });
  if (isRoot) await capture('chown', [account, passwordFile]);
  const made = await asServerUser(join(bin, 'initdb'), [
    '-D',
    cluster,
    '-U',
    'umbral',
    '-A',
    'scram-sha-256',
    `--pwfile=${passwordFile}`,
    '-E',
    'UTF8',
    '--locale=C.UTF-8',
  ]);
  rmSync(passwordFile, { force: true });
  if (made.code !== 0)
    throw new Problem(`The database cluster could not be created in ${cluster}:\n${made.out.slice(-1500)}`);
  writeWhole(settingsFile, JSON.stringify({ password, port: null }));
}

/**
 * Starts a private cluster on loopback in `folder`, made on the first use.
 *
 * @returns the connection strings of the application and of the tables' owner, a way to stop the server, whether it runs,
 *   and a way to start it again on the same port
 */
export async function startCluster(folder, { throwAway = false } = {}) {
  const bin = await ensurePrograms();
  const home = await reachableFolder(folder);
  const cluster = join(home, 'cluster');
  const settingsFile = join(home, 'umbral.json');
  if (!existsSync(join(cluster, 'PG_VERSION'))) {
    if (existsSync(cluster) && readdirSync(cluster).length > 0)
      throw new Problem(`${cluster} is no database cluster, and it is not empty. Nothing in it was touched.`);
    await makeCluster(bin, home, cluster, settingsFile);
  }
  const settings = readSettings(settingsFile);
  settings.appPassword ??= randomBytes(18).toString('base64url');
  const log = join(home, 'server.log');
  const isUp = () => Boolean(settings.port) && runsHere(cluster, settings.port);
  const start = async () => {
    const fast = throwAway ? ' -c fsync=off -c synchronous_commit=off -c full_page_writes=off' : '';
    const options = `-p ${settings.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories=''${fast}`;
    const args = ['-D', cluster, '-l', log, '-o', options, '-w', '-t', '60', 'start'];
    const started = await asServerUser(join(bin, 'pg_ctl'), args);
    for (let n = 0; n < 100 && isUp() && !(await isReady(bin, settings.port)); n++)
      await new Promise((f) => setTimeout(f, 200));
    if (!(await isReady(bin, settings.port))) {
      const tail = existsSync(log) ? readFileSync(log, 'utf8').slice(-1500) : started.out;
      throw new Problem(`The database did not start:\n${tail}`);
    }
  };
  const wasUp = isUp() && (await isReady(bin, settings.port));
  if (!wasUp) {
    settings.port = await freePort(settings.port ?? 0);
    await start();
  }
  writeWhole(settingsFile, JSON.stringify(settings));
  const at = `127.0.0.1:${settings.port}/postgres`;
  const stop = () => asServerUser(join(bin, 'pg_ctl'), ['-D', cluster, '-m', 'fast', '-w', '-t', '30', 'stop']);
  return {
    url: `postgres://${applicationRole}:${settings.appPassword}@${at}`,
    ownerUrl: `postgres://umbral:${settings.password}@${at}`,
    stop,
    home,
    isUp,
    /** It ran before, for somebody else. */
    wasUp,
    start,
  };
}

const askEveryMs = 1000;

/** A cluster that is started again whenever its server is gone, for {@link keepRunning}. */
export async function beginCluster(cluster) {
  if (!cluster.isUp()) await cluster.start();
  let timer;
  const ended = new Promise((resolve) => {
    timer = setInterval(() => {
      if (cluster.isUp()) return;
      clearInterval(timer);
      resolve('its server process is gone');
    }, askEveryMs);
  });
  const stop = () => {
    clearInterval(timer);
    return cluster.stop();
  };
  return { ended, stop };
}

const appendOnly = ['assessments', 'openings', 'audit', 'profiles', 'calibrations'];

/**
 * Brings the database to the newest migration.
 *
 * @param ownerUrl of who owns the tables
 * @param url of the application, where that is another one: it is given the right to work with the rows, and no more
 */
export async function migrate(ownerUrl, url = ownerUrl) {
  const { default: knex } = await import('knex');
  const db = knex({
    client: 'pg',
    connection: ownerUrl,
    migrations: { directory: join(root, 'web/server/migrations'), loadExtensions: ['.cjs'] },
  });
  try {
    await db.migrate.latest();
    const { default: catalogues } = await import(join(root, 'core/dist/catalogue/index.js'));
    await applyCatalogues(db, catalogues);
    const hasQueue = await prepareQueue(ownerUrl).then(
      () => true,
      (error) => {
        say(`Background work is off: the database lets nobody make its schema (${error.message}).`);
        return false;
      },
    );
    if (url !== ownerUrl) await grant(db, new URL(url), hasQueue);
  } finally {
    await db.destroy();
  }
}

/** Queues of background work, with when each is due: in a schema of their own, made by the owner. */
const due = { 'empty-trash': '40 3 * * *', 'forget-sessions': '10 * * * *', replay: null };

async function prepareQueue(ownerUrl) {
  const { default: PgBoss } = await import('pg-boss');
  const boss = new PgBoss({ connectionString: ownerUrl, schema: 'queue', max: 1, supervise: false, schedule: false });
  boss.on('error', () => undefined);
  await boss.start();
  for (const [name, cron] of Object.entries(due)) {
    await boss.createQueue(name, { policy: 'short', retryLimit: 2, retryDelay: 60 });
    // What is asked for has no time of its own.
    if (cron) await boss.schedule(name, cron);
  }
  await boss.stop({ graceful: false, wait: true });
}

async function grant(db, { username, password }, hasQueue) {
  const [{ exists }] = (await db.raw('SELECT EXISTS (SELECT 1 FROM pg_roles WHERE rolname = ?) AS exists', [username]))
    .rows;
  if (!exists) await db.raw('CREATE ROLE ?? LOGIN', [username]);
  const [{ command }] = (
    await db.raw(
      `SELECT format('ALTER ROLE %I LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE PASSWORD %L', ?::text, ?::text) AS command`,
      [username, decodeURIComponent(password)],
    )
  ).rows;
  await db.raw(command);
  await db.raw('REVOKE CREATE ON SCHEMA public FROM PUBLIC');
  await db.raw('GRANT USAGE ON SCHEMA public TO ??', [username]);
  await db.raw('GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO ??', [username]);
  await db.raw('GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO ??', [username]);
  if (hasQueue) {
    await db.raw('GRANT USAGE ON SCHEMA queue TO ??', [username]);
    await db.raw('GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA queue TO ??', [username]);
    await db.raw('GRANT EXECUTE ON ALL FUNCTIONS IN SCHEMA queue TO ??', [username]);
  }
  for (const table of appendOnly) await db.raw('REVOKE UPDATE, DELETE ON ?? FROM ??', [table, username]);
  for (const table of ['knex_migrations', 'knex_migrations_lock'])
    await db.raw('REVOKE INSERT, UPDATE, DELETE ON ?? FROM ??', [table, username]);
}
