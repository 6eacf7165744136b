// npm run backup: everything that Umbral keeps, as one file, while it runs.
// npm run backup -- --grow FOLDER: a folder with all of it at first, to which each later call adds what is new.
import { cpSync, existsSync, mkdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import {
  backupFormat,
  connectionOf,
  contentsOf,
  filesIn,
  pack,
  passphrase,
  programOf,
  scratchIn,
  sha256Of,
  writeManifest,
} from './lib/backup.mjs';
import { growBackup } from './lib/growing.mjs';
import { hasCluster, startCluster } from './lib/postgres.mjs';
import { capture, main, Problem, root, say } from './lib/run.mjs';

const { values } = parseArgs({
  options: { data: { type: 'string' }, to: { type: 'string' }, grow: { type: 'string' } },
});

/** The database of the data folder, started for the time of the backup where it does not run. */
async function database(folder) {
  const own = process.env.DATABASE_OWNER_URL ?? process.env.DATABASE_URL;
  if (own) return { url: own, stop: async () => undefined };
  const cluster = await ownCluster(folder);
  return { url: cluster.ownerUrl, stop: cluster.stop };
}

async function ownCluster(folder) {
  if (!(await hasCluster(folder)))
    throw new Problem(`There is no Umbral data in ${folder}. Give its folder with --data.`);
  const cluster = await startCluster(folder);
  return { ...cluster, stop: cluster.wasUp ? async () => undefined : cluster.stop };
}

/** Adds what was written since the last time to a backup that grows, or begins it. */
async function grow(folder, to) {
  if (process.env.DATABASE_URL)
    throw new Problem('A growing backup needs a database that Umbral runs itself. Use the tools of your own database.');
  const cluster = await ownCluster(folder);
  try {
    const { added, all, times } = await growBackup(cluster, folder, to);
    const megabytes = (bytes) => `${(bytes / 1e6).toFixed(1)} MB`;
    say(
      times === 1
        ? `${to}\nBegun with ${megabytes(added)}. Run the same command again to add what is new.`
        : `${to}\n${megabytes(added)} added; ${megabytes(all)} in all. It can be restored up to now.`,
    );
  } finally {
    await cluster.stop();
  }
}

/** The dump and what every table holds, both of one instant. One after the other: the shop works on meanwhile. */
async function dump(url, scratch) {
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: url, pool: { min: 0, max: 2 } });
  const still = { isolationLevel: 'repeatable read', readOnly: true };
  try {
    return await db.transaction(async (q) => {
      const { rows } = await q.raw('SELECT pg_export_snapshot() AS snapshot');
      const [{ snapshot }] = rows;
      const how = ['--format=directory', '--compress=1', '--no-owner', '--no-acl', '--schema=public'];
      const args = [...how, `--snapshot=${snapshot}`, `--file=${join(scratch, 'database.dump')}`];
      const done = await capture(programOf('pg_dump'), args, { env: connectionOf(url) });
      if (done.code !== 0) throw new Problem(`The database could not be read:\n${done.out.slice(-1200)}`);
      const migrations = await q('knex_migrations').orderBy('id').pluck('name');
      const tables = await contentsOf([q]);
      return { tables, migration: migrations.at(-1) };
    }, still);
  } finally {
    await db.destroy();
  }
}

async function note(url, file, sha256) {
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: url, pool: { min: 0, max: 1 } });
  try {
    // A backup of an older schema is made before it is brought up to date, and has nowhere to note it.
    if (!(await db.schema.hasTable('backups'))) return;
    await db('backups').insert({ file: basename(file), bytes: statSync(file).size, sha256 });
  } finally {
    await db.destroy();
  }
}

main(async () => {
  const folder = resolve(root, values.data ?? process.env.UMBRAL_DATA ?? '.data/umbral');
  // It holds everything that the shop keeps: for nobody else on this computer.
  process.umask(0o077);
  if (values.grow !== undefined) return grow(folder, resolve(values.grow));
  const at = new Date();
  const stamp = at.toISOString().replace(/[-:]/g, '').replace('T', '-').slice(0, 15);
  const ending = passphrase() === null ? 'tar' : 'tar.age';
  const file = resolve(values.to ?? join(folder, 'backups', `umbral-${stamp}.${ending}`));
  if (existsSync(file)) throw new Problem(`${file} already exists. Nothing is overwritten.`);
  const { url, stop } = await database(folder);
  const place = dirname(file);
  mkdirSync(place, { recursive: true });
  const scratch = scratchIn(place, '.umbral-backup-');
  try {
    // What waits for the record first: what reaches it meanwhile is in both, and taken once.
    for (const own of ['dialects', join('recorder', 'spool')])
      if (existsSync(join(folder, own))) cpSync(join(folder, own), join(scratch, own), { recursive: true });
    const { tables, migration } = await dump(url, scratch);
    const files = {};
    for (const name of filesIn(scratch)) files[name] = await sha256Of(join(scratch, name));
    writeManifest(scratch, { format: backupFormat, madeAt: at.toISOString(), migration, tables, files });
    const beside = `${scratch}.part`;
    await pack(scratch, beside);
    renameSync(beside, file);
    await note(url, file, await sha256Of(file));
    const rows = Object.values(tables).reduce((sum, t) => sum + t.rows, 0);
    say(`${file}\n${Object.keys(tables).length} tables, ${rows} rows, ${(statSync(file).size / 1e6).toFixed(1)} MB.`);
    say(
      passphrase() === null
        ? 'This file contains everything. Keep it on another computer, and encrypt it with UMBRAL_PASSPHRASE.'
        : 'It is encrypted. Keep it on another computer, and keep the passphrase in a third place.',
    );
  } finally {
    rmSync(scratch, { recursive: true, force: true });
    rmSync(`${scratch}.part`, { force: true });
    await stop();
  }
});
