// npm run restore -- FILE --data FOLDER: what a backup holds, into an empty folder or an empty database of your own.
import { cpSync, existsSync, lstatSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { connectionOf, contentsOf, programOf, scratchIn, unpack } from './lib/backup.mjs';
import { isGrowing, restoreGrown } from './lib/growing.mjs';
import { clearUnfinished, isUnfinished, ownFolder, restoreScratch, startCluster } from './lib/postgres.mjs';
import { migrate } from './lib/schema.mjs';
import { capture, main, Problem, root, say } from './lib/run.mjs';

const { values, positionals } = parseArgs({ options: { data: { type: 'string' } }, allowPositionals: true });

function refuseNewer({ migration }) {
  const known = readdirSync(join(root, 'web/server/migrations'));
  if (!known.includes(migration))
    throw new Problem(`The backup is from a newer version of Umbral (its database is at ${migration}). Update first.`);
}

async function withDatabase(url, work) {
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: url, pool: { min: 0, max: 2 } });
  try {
    return await work(db);
  } finally {
    await db.destroy();
  }
}

async function refuseFull(url) {
  const { rows } = await withDatabase(url, (db) =>
    db.raw(`SELECT count(*)::int AS n FROM pg_tables WHERE schemaname = 'public'`),
  );
  if (rows[0].n > 0) throw new Problem('The database of DATABASE_URL is not empty. Nothing is overwritten.');
}

/** Every table has to hold what it held. */
async function compare(url, { tables, format }) {
  const now = await withDatabase(url, (db) =>
    db.transaction((q) => db.transaction((second) => contentsOf([q, second], format))),
  );
  const wrong = Object.entries(tables)
    .filter(([name, was]) => now[name]?.rows !== was.rows || now[name]?.sum !== was.sum)
    .map(([name, was]) => `${name}: ${now[name]?.rows ?? 'no'} rows instead of ${was.rows}, or different ones`);
  if (wrong.length > 0) throw new Problem(`The restored data differs from the backup:\n${wrong.join('\n')}`);
}

/**
 * The dump, whole or not at all: in one transaction, or in a database that is thrown away where it does not come to its end,
 * on two processors.
 */
async function fill(url, dump, isThrownAway) {
  const isParallel = isThrownAway && lstatSync(dump).isDirectory();
  const how = ['--no-owner', '--no-acl', '--exit-on-error', '--schema=public'];
  const args = [
    ...how,
    isParallel ? '--jobs=2' : '--single-transaction',
    '--dbname',
    connectionOf(url).PGDATABASE,
    dump,
  ];
  const done = await capture(programOf('pg_restore'), args, { env: connectionOf(url) });
  if (done.code !== 0) throw new Problem(`The database could not be restored:\n${done.out.slice(-1200)}`);
}

/** An empty folder, or one in which a restore broke off. */
async function emptyFolder(folder) {
  if (existsSync(folder) && readdirSync(folder).length > 0 && !(await isUnfinished(folder)))
    throw new Problem(`${folder} is not empty. Nothing is overwritten. Give an empty folder with --data.`);
  ownFolder(folder);
  await clearUnfinished(folder);
  for (const name of readdirSync(folder)) rmSync(join(folder, name), { recursive: true, force: true });
}

main(async () => {
  const [given] = positionals;
  if (!given) throw new Problem('Name the backup: npm run restore -- FILE --data FOLDER');
  const file = resolve(given);
  if (!existsSync(file)) throw new Problem(`There is no file ${file}.`);
  const outside = process.env.DATABASE_OWNER_URL ?? process.env.DATABASE_URL;
  const folder = resolve(root, values.data ?? process.env.UMBRAL_DATA ?? '.data/umbral');
  process.umask(0o077);
  if (outside) await refuseFull(outside);
  else await emptyFolder(folder);
  if (outside) mkdirSync(folder, { recursive: true });
  const scratch = scratchIn(folder, restoreScratch);
  let cluster = null;
  let isDone = false;
  const fromFile = async () => {
    const { manifest, folder: kept } = await unpack(file, scratch);
    refuseNewer(manifest);
    cluster = outside ? null : await startCluster(folder, { restoring: true });
    const url = outside ?? cluster.ownerUrl;
    await fill(url, join(kept, 'database.dump'), !outside);
    await compare(url, manifest);
    const rows = Object.values(manifest.tables).reduce((sum, t) => sum + t.rows, 0);
    return {
      url,
      kept,
      madeAt: manifest.madeAt,
      what: `${Object.keys(manifest.tables).length} tables, ${rows} rows, all verified`,
    };
  };
  const fromGrown = async () => {
    if (outside) throw new Problem(`${file} is a whole server. Restore it into a data folder, without DATABASE_URL.`);
    const grown = await restoreGrown(file, folder, refuseNewer);
    cluster = grown.cluster;
    return {
      url: cluster.ownerUrl,
      kept: join(file, 'beside'),
      madeAt: grown.madeAt,
      what: 'everything up to that time',
    };
  };
  try {
    const { url, kept, madeAt, what } = await (isGrowing(file) ? fromGrown() : fromFile());
    await migrate(url, cluster?.url ?? process.env.DATABASE_URL ?? url);
    for (const own of ['dialects', 'recorder'])
      if (existsSync(join(kept, own))) cpSync(join(kept, own), join(folder, own), { recursive: true });
    await cluster?.finish();
    isDone = true;
    say(`Restored the backup of ${madeAt}: ${what}.`);
    if (!outside) say(`Start it with: npm start -- --data ${folder}`);
  } finally {
    rmSync(scratch, { recursive: true, force: true });
    if (!isDone && cluster) {
      await cluster.stop();
      await clearUnfinished(folder);
      for (const name of readdirSync(folder)) rmSync(join(folder, name), { recursive: true, force: true });
    }
  }
});
