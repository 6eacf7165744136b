// A backup that grows: the whole database cluster once, and from then on only what was written since.
import { createHash } from 'node:crypto';
import {
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { createRequire } from 'node:module';
import { basename, join, resolve } from 'node:path';
import { connectionOf, filesIn, passphrase, programOf, sha256Of } from './backup.mjs';
import { clusterOf, giveToServer, startCluster } from './postgres.mjs';
import { capture, Problem } from './run.mjs';

const { writeWhole } = createRequire(import.meta.url)('../../instruments/plain/write-whole.cjs');

const growingFormat = 'umbral-growing/1';
const manifestOf = (folder) => join(folder, 'manifest.json');

/** Whether a folder is a backup that grows. */
export const isGrowing = (folder) => existsSync(manifestOf(folder)) && statSync(folder).isDirectory();

/** The server keeps what the next addition needs under this name, one for each folder; 8 GB at most. */
const slotOf = (folder) => `umbral_${createHash('sha256').update(resolve(folder)).digest('hex').slice(0, 12)}`;

const bytesIn = (folder) => filesIn(folder).reduce((sum, name) => sum + statSync(join(folder, name)).size, 0);

/** A number of the write-ahead log, `X/Y`, as one that can be compared. */
const placeOf = (lsn) => lsn.split('/').reduce((sum, part) => sum * 2n ** 32n + BigInt(`0x${part}`), 0n);

async function must(program, args, env, what) {
  const done = await capture(programOf(program), args, { env });
  if (done.code !== 0) throw new Problem(`${what}:\n${done.out.slice(-1200)}`);
}

/** Of everything that a manifest says, so that a damaged one is not taken for a whole one. */
const sumOf = (manifest) =>
  createHash('sha256')
    .update(JSON.stringify({ ...manifest, sha256: undefined }))
    .digest('hex');

function readManifest(folder) {
  let manifest;
  try {
    manifest = JSON.parse(readFileSync(manifestOf(folder), 'utf8'));
  } catch {
    throw new Problem(`${folder} is damaged: manifest.json cannot be read. Nothing was changed.`);
  }
  if (manifest.format !== growingFormat)
    throw new Problem(
      `${folder} is a backup in another format (${String(manifest.format).slice(0, 40)}); expected ${growingFormat}.`,
    );
  // Those of earlier releases have none.
  if (manifest.sha256 !== undefined && manifest.sha256 !== sumOf(manifest))
    throw new Problem(`${folder} is damaged: manifest.json was changed. Nothing was changed.`);
  return manifest;
}

/**
 * Begins a backup in an empty folder, or adds to one what was written since the last time. The shop works on meanwhile.
 *
 * @param cluster that runs, of our own
 * @param data folder that the cluster belongs to: what lies beside the database there comes along
 * @returns what was written: bytes of the first copy or of the addition
 * @throws {Problem} for a folder of another database, or one after which the server no longer has everything
 */
export async function growBackup(cluster, data, folder) {
  if (passphrase() !== null)
    throw new Problem(
      'A growing backup cannot be encrypted. Put its folder on an encrypted disk, and leave out UMBRAL_PASSPHRASE.',
    );
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: cluster.superuserUrl, pool: { min: 0, max: 1 } });
  const one = async (sql, ...values) => (await db.raw(sql, values)).rows[0];
  const env = connectionOf(cluster.superuserUrl);
  const slot = slotOf(folder);
  // The first copy is whole by one rename.
  const isFirst = !isGrowing(folder);
  const place = isFirst ? `${resolve(folder)}.making` : folder;
  const wal = join(place, 'wal');
  try {
    const { system } = await one('SELECT system_identifier::text AS system FROM pg_control_system()');
    const at = new Date().toISOString();
    const known = isFirst
      ? { format: growingFormat, system, begun: at, segments: {}, additions: [] }
      : readManifest(folder);
    if (known.system !== system) throw new Problem(`${folder} is the backup of another database. Nothing was added.`);
    if (isFirst) {
      if (existsSync(folder) && readdirSync(folder).length > 0)
        throw new Problem(`${folder} is not empty. A growing backup starts in an empty folder.`);
      rmSync(place, { recursive: true, force: true });
      mkdirSync(wal, { recursive: true, mode: 0o700 });
      await db.raw('SELECT pg_drop_replication_slot(slot_name) FROM pg_replication_slots WHERE slot_name = ?', [slot]);
      const how = ['--wal-method=stream', '--checkpoint=fast', '--create-slot', `--slot=${slot}`];
      const base = join(place, 'base');
      await must('pg_basebackup', ['-D', base, ...how], env, 'The database could not be copied');
      await must('pg_verifybackup', ['--quiet', base], env, 'The copy differs from what the database wrote');
    } else {
      const kept = await one('SELECT wal_status AS status FROM pg_replication_slots WHERE slot_name = ?', slot);
      if (!kept || kept.status === 'lost')
        throw new Problem(
          `The database no longer has everything written since ${folder} was last updated. That backup can still be restored. Start a new one in an empty folder.`,
        );
    }
    const before = bytesIn(wal);
    const mark = async () => (await one(`SELECT pg_logical_emit_message(false, 'umbral', 'backup')::text AS lsn`)).lsn;
    // What is written up to here comes along, in segments that are whole; the server is asked for a little more than that.
    const lsn = await mark();
    await db.raw('SELECT pg_switch_wal()');
    const how = ['--no-loop', '--synchronous', `--slot=${slot}`, `--endpos=${await mark()}`];
    await must('pg_receivewal', ['-D', wal, ...how], env, 'The new data could not be added');
    for (const own of ['dialects', join('recorder', 'spool')])
      if (existsSync(join(data, own))) cpSync(join(data, own), join(place, 'beside', own), { recursive: true });
    cpSync(join(cluster.home, 'umbral.json'), join(place, 'umbral.json'));
    const segments = {};
    for (const name of filesIn(wal).filter((n) => !n.endsWith('.partial')))
      segments[name] = known.segments[name] ?? (await sha256Of(join(wal, name)));
    const { name: migration } = await one('SELECT name FROM knex_migrations ORDER BY id DESC LIMIT 1');
    const added = isFirst ? bytesIn(place) : bytesIn(wal) - before;
    const manifest = { ...known, migration, segments, additions: [...known.additions, { at, lsn, bytes: added }] };
    writeWhole(manifestOf(place), `${JSON.stringify({ ...manifest, sha256: sumOf(manifest) }, null, 2)}\n`);
    const all = bytesIn(place);
    if (isFirst) {
      rmSync(folder, { recursive: true, force: true });
      renameSync(place, folder);
    }
    await db('backups').insert({ file: basename(folder), bytes: all, sha256: await sha256Of(manifestOf(folder)) });
    return { added, all, times: manifest.additions.length };
  } finally {
    await db.destroy();
  }
}

/**
 * Puts a backup that grew into an empty data folder, up to its last addition.
 *
 * @param refuseNewer throws for the manifest of a newer release
 * @returns the cluster, started beside its place, and when it was added to the last time
 * @throws {Problem} for one that is not whole; nothing is left of it then
 */
export async function restoreGrown(folder, into, refuseNewer) {
  const manifest = readManifest(folder);
  refuseNewer(manifest);
  const damaged = (what) => new Problem(`${folder} is damaged: ${what}. Nothing was restored.`);
  for (const [name, sha256] of Object.entries(manifest.segments)) {
    const path = join(folder, 'wal', name);
    if (!existsSync(path)) throw damaged(`wal/${name} is missing`);
    if ((await sha256Of(path)) !== sha256) throw damaged(`wal/${name} was changed`);
  }
  const looked = await capture(programOf('pg_verifybackup'), ['--quiet', join(folder, 'base')]);
  if (looked.code !== 0) throw damaged(looked.out.trim().split('\n')[0]);
  const cluster = await clusterOf(into, { restoring: true });
  cpSync(join(folder, 'base'), cluster.path, { recursive: true });
  const log = join(cluster.path, 'added');
  mkdirSync(log);
  for (const name of Object.keys(manifest.segments)) cpSync(join(folder, 'wal', name), join(log, name));
  // Nobody comes in before all of it is there.
  const own = join(cluster.path, 'postgresql.auto.conf');
  const settings = readFileSync(own, 'utf8');
  writeFileSync(own, `${settings}restore_command = 'cp "added/%f" "%p"'\nhot_standby = off\n`);
  writeFileSync(join(cluster.path, 'recovery.signal'), '');
  const kept = JSON.parse(readFileSync(join(folder, 'umbral.json'), 'utf8'));
  writeFileSync(join(cluster.home, 'umbral.json'), JSON.stringify({ ...kept, port: null }), { mode: 0o600 });
  await giveToServer(cluster.path);
  const started = await startCluster(into, { restoring: true });
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: started.superuserUrl, pool: { min: 0, max: 1 } });
  try {
    const { rows } = await db.raw('SELECT coalesce(pg_last_wal_replay_lsn(), pg_current_wal_lsn())::text AS lsn');
    const { lsn: wanted } = manifest.additions.at(-1);
    if (placeOf(rows[0].lsn) < placeOf(wanted)) throw damaged(`it ends at ${rows[0].lsn} instead of ${wanted}`);
    writeFileSync(own, settings);
    rmSync(log, { recursive: true });
  } catch (error) {
    await started.stop();
    throw error;
  } finally {
    await db.destroy();
  }
  return { cluster: started, madeAt: manifest.additions.at(-1).at };
}
