import { readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { Problem, root, say } from './run.mjs';

const { applyCatalogues } = createRequire(import.meta.url)('../../web/server/catalogue-constraints.cjs');

/** The name under which the application works: it owns nothing. And who owns the tables: no superuser. */
export const applicationRole = 'umbral_app';
export const ownerRole = 'umbral_owner';

/** What belongs to the one who made the cluster, as earlier releases left it: each with the command that gives it away. */
const notYetGiven = `
  SELECT format('ALTER SCHEMA %I OWNER TO ${ownerRole}', nspname) AS command FROM pg_namespace
    WHERE nspname IN ('public', 'queue') AND nspowner <> '${ownerRole}'::regrole
  UNION ALL
  SELECT format('ALTER %s %s OWNER TO ${ownerRole}',
      CASE relkind WHEN 'v' THEN 'VIEW' WHEN 'm' THEN 'MATERIALIZED VIEW' WHEN 'S' THEN 'SEQUENCE' ELSE 'TABLE' END, c.oid::regclass)
    FROM pg_class c WHERE relnamespace::regnamespace::text IN ('public', 'queue') AND relkind IN ('r', 'p', 'v', 'm', 'S')
    AND relowner <> '${ownerRole}'::regrole
    AND NOT EXISTS (SELECT 1 FROM pg_depend WHERE objid = c.oid AND deptype IN ('a', 'i') AND refclassid = 'pg_class'::regclass AND c.relkind = 'S')
  UNION ALL
  SELECT format('ALTER ROUTINE %s OWNER TO ${ownerRole}', oid::regprocedure) FROM pg_proc
    WHERE pronamespace::regnamespace::text IN ('public', 'queue') AND proowner <> '${ownerRole}'::regrole
  UNION ALL
  SELECT format('ALTER TYPE %s OWNER TO ${ownerRole}', oid::regtype) FROM pg_type
    WHERE typnamespace::regnamespace::text IN ('public', 'queue') AND typtype IN ('e', 'd') AND typowner <> '${ownerRole}'::regrole`;

/**
 * Makes the two roles that are worked with, and gives the owner what an earlier release made as the superuser. Neither may
 * make roles or databases, and the application may make nothing at all, not even for the time of a session.
 */
export async function giveToOwner(url, { ownerPassword, appPassword }) {
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: url, pool: { min: 0, max: 1 } });
  try {
    await db.transaction(async (q) => {
      // One start at a time, as where two programs use a cluster that runs.
      await q.raw('SELECT pg_advisory_xact_lock(471400003)');
      for (const [role, password] of [
        [ownerRole, ownerPassword],
        [applicationRole, appPassword],
      ])
        await setRole(q, role, password);
      await q.raw('REVOKE ALL ON DATABASE template1 FROM PUBLIC');
      await giveDatabase(q, 'postgres');
      const { rows } = await q.raw(notYetGiven);
      for (const { command } of rows) await q.raw(command);
    });
  } finally {
    await db.destroy();
  }
}

/** Who may do what in a database as a whole. */
async function giveDatabase(q, name) {
  await q.raw('REVOKE ALL ON DATABASE ?? FROM PUBLIC', [name]);
  await q.raw('GRANT CONNECT, CREATE, TEMPORARY ON DATABASE ?? TO ??', [name, ownerRole]);
  await q.raw('GRANT CONNECT ON DATABASE ?? TO ??', [name, applicationRole]);
}

/** Makes a database that is as "postgres" is now; nobody may be connected to that. For clusters of tests. */
export async function copyDatabase(url, name) {
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: url.replace(/[^/]*$/, 'template1'), pool: { min: 0, max: 1 } });
  try {
    await db.raw('CREATE DATABASE ?? TEMPLATE postgres', [name]);
    await giveDatabase(db, name);
  } finally {
    await db.destroy();
  }
}

async function setRole(q, role, password) {
  const { rows } = await q.raw('SELECT 1 FROM pg_roles WHERE rolname = ?', [role]);
  if (rows.length === 0) await q.raw('CREATE ROLE ?? LOGIN', [role]);
  const { rows: made } = await q.raw(
    `SELECT format('ALTER ROLE %I LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION NOBYPASSRLS PASSWORD %L', ?::text, ?::text) AS command`,
    [role, password],
  );
  await q.raw(made[0].command);
  // Whoever has its password may set what every later connection begins with.
  await q.raw('ALTER ROLE ?? RESET ALL', [role]);
  const { rows: settled } = await q.raw(
    `SELECT datname FROM pg_db_role_setting s JOIN pg_database d ON d.oid = s.setdatabase WHERE s.setrole = ?::regrole`,
    [role],
  );
  for (const { datname } of settled) await q.raw('ALTER ROLE ?? IN DATABASE ?? RESET ALL', [role, datname]);
}

/** What stands there is never changed or deleted; of the second, nothing is deleted but with its job, by the owner. */
const appendOnly = ['assessments', 'openings', 'audit', 'profiles', 'calibrations', 'run_chunks'];
const neverDeleted = ['jobs', 'runs', 'checks', 'readings', 'actions', 'injections', 'proofs', 'corrections'];
/** What the application may call: functions that look after what they do. Triggers are called by their tables. */
const callable = [
  'open_partitions()',
  'drop_samples(timestamptz)',
  'drop_audit(timestamptz)',
  'erase_job(integer, text)',
];

const migrationFolder = join(root, 'web/server/migrations');
const loadExtensions = ['.cjs'];

/**
 * Runs the migrations that are not in yet, each whole or not at all. A lock that an end in the middle left behind holds
 * nobody up: one start at a time is what the database's own lock is for, and that ends with its session.
 *
 * @param db Knex of the owner of the tables, with its migrations
 * @throws {Problem} for a database of a newer release
 */
export async function bringUp(db) {
  await db.transaction(async (turn) => {
    await turn.raw('SELECT pg_advisory_xact_lock(471400004)');
    if (await db.schema.hasTable('knex_migrations')) {
      const known = readdirSync(migrationFolder);
      const newer = (await db('knex_migrations').orderBy('id').pluck('name')).filter((name) => !known.includes(name));
      if (newer.length > 0)
        throw new Problem(
          `This data is from a newer version of Umbral (its database is at ${newer.at(-1)}). Update the program first. Nothing was changed.`,
        );
      const { is_locked: isLeft } = (await db('knex_migrations_lock').first('is_locked')) ?? {};
      if (isLeft) await db.migrate.forceFreeMigrationsLock();
    }
    await db.migrate.latest();
  });
}

/**
 * Brings the database to the newest migration.
 *
 * @param ownerUrl of who owns the tables
 * @param url of the application, where that is another one: it is given the right to work with the rows, and no more
 */
export async function migrate(ownerUrl, url = ownerUrl) {
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: ownerUrl, migrations: { directory: migrationFolder, loadExtensions } });
  try {
    await bringUp(db);
    const { default: catalogues } = await import(join(root, 'core/dist/catalogue/index.js'));
    await applyCatalogues(db, catalogues);
    const hasQueue = await prepareQueue(ownerUrl).then(
      () => true,
      (error) => {
        say(`Background work is off because its schema cannot be created in the database (${error.message}).`);
        return false;
      },
    );
    if (url !== ownerUrl) await grant(db, new URL(url), hasQueue);
  } finally {
    await db.destroy();
  }
}

/** Queues of background work, with when each is due: in a schema of their own, made by the owner. */
const due = {
  'empty-trash': '40 3 * * *',
  retention: '20 3 * * *',
  'forget-sessions': '10 * * * *',
  'count-calls': null,
  correct: null,
  replay: null,
};

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
  const { rows: found } = await db.raw(
    `SELECT rolsuper, rolcreaterole, EXISTS (SELECT 1 FROM pg_roles WHERE rolname = ?) AS exists
     FROM pg_roles WHERE rolname = current_user`,
    [username],
  );
  const [{ rolsuper, rolcreaterole, exists }] = found;
  // The owner of our own cluster may make no roles: both stand there already.
  if (rolsuper || rolcreaterole) await setRole(db, username, decodeURIComponent(password));
  else if (!exists)
    throw new Problem(
      `There is no role "${username}" in the database, and its owner may not create one. Create it first.`,
    );
  if (rolsuper) say('The role of DATABASE_OWNER_URL is a superuser. A role that only owns the tables is enough.');
  const schemas = hasQueue ? ['public', 'queue'] : ['public'];
  for (const schema of schemas) {
    await db.raw('REVOKE CREATE ON SCHEMA ?? FROM PUBLIC', [schema]);
    await db.raw('REVOKE EXECUTE ON ALL ROUTINES IN SCHEMA ?? FROM PUBLIC', [schema]);
    await db.raw('ALTER DEFAULT PRIVILEGES IN SCHEMA ?? REVOKE EXECUTE ON ROUTINES FROM PUBLIC', [schema]);
    await db.raw('GRANT USAGE ON SCHEMA ?? TO ??', [schema, username]);
    await db.raw('GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA ?? TO ??', [schema, username]);
    await db.raw('REVOKE EXECUTE ON ALL ROUTINES IN SCHEMA ?? FROM ??', [schema, username]);
  }
  await db.raw('GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO ??', [username]);
  // What lies in partitions is reached through the whole table, with what holds there.
  const { rows: parts } = await db.raw(
    'SELECT oid::regclass::text AS name FROM pg_class WHERE relispartition AND relkind = ?',
    ['r'],
  );
  for (const { name } of parts) await db.raw(`REVOKE ALL ON ${name} FROM ??`, [username]);
  for (const table of appendOnly) await db.raw('REVOKE UPDATE, DELETE ON ?? FROM ??', [table, username]);
  for (const table of neverDeleted) await db.raw('REVOKE DELETE ON ?? FROM ??', [table, username]);
  for (const signature of callable) await db.raw(`GRANT EXECUTE ON FUNCTION ${signature} TO ??`, [username]);
  for (const table of ['knex_migrations', 'knex_migrations_lock'])
    await db.raw('REVOKE INSERT, UPDATE, DELETE ON ?? FROM ??', [table, username]);
}
