import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { capture, Problem } from './run.mjs';

/** Format of the file that a backup is. */
export const backupFormat = 'umbral-backup/1';

/** The program of PostgreSQL, beside its server where that is Debian's. */
export function programOf(name) {
  const base = '/usr/lib/postgresql';
  const versions = existsSync(base) ? readdirSync(base).sort((a, b) => Number(b) - Number(a)) : [];
  const folders = [...versions.map((v) => join(base, v, 'bin')), ...(process.env.PATH ?? '').split(':')];
  const found = folders.map((f) => join(f, name)).find((path) => existsSync(path));
  if (!found) throw new Problem(`${name} is missing; it comes with Debian's package postgresql-client.`);
  return found;
}

export async function sha256Of(path) {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

/**
 * What stands in every table: how many rows, and a sum over them that does not depend on their order.
 *
 * @param q a Knex transaction in which nothing changes
 */
export async function contentsOf(q) {
  const { rows: tables } = await q.raw(
    `SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public' ORDER BY tablename`,
  );
  const contents = {};
  for (const { name } of tables) {
    const { rows } = await q.raw(
      `SELECT count(*)::int AS rows, coalesce(sum(hashtextextended(t::text, 0)::numeric), 0)::text AS sum FROM ?? AS t`,
      [name],
    );
    contents[name] = rows[0];
  }
  return contents;
}

/** Programs of PostgreSQL take the password from their environment, where no list of processes shows it. */
export function connectionOf(url) {
  const { hostname, port, username, password, pathname, searchParams } = new URL(url);
  const env = {
    ...process.env,
    PGHOST: hostname,
    PGPORT: port || '5432',
    PGUSER: decodeURIComponent(username),
    PGPASSWORD: decodeURIComponent(password),
    PGDATABASE: decodeURIComponent(pathname.slice(1)),
  };
  const sslmode = searchParams.get('sslmode');
  return sslmode ? { ...env, PGSSLMODE: sslmode } : env;
}

/** Puts a folder into one file. */
export async function pack(folder, file) {
  const done = await capture('tar', ['--create', '--file', file, '--directory', folder, '.']);
  if (done.code !== 0) throw new Problem(`The backup could not be written to ${file}:\n${done.out.slice(-800)}`);
}

/**
 * Takes a backup apart and looks whether all of it is there and as it was.
 *
 * @returns the manifest
 * @throws {Problem} for a file that is none, or that is damaged; nothing was changed then
 */
export async function unpack(file, folder) {
  mkdirSync(folder, { recursive: true });
  const damaged = (what) => new Problem(`${file} is damaged: ${what}. Nothing was restored.`);
  const done = await capture('tar', ['--extract', '--no-same-owner', '--file', file, '--directory', folder]);
  if (done.code !== 0) throw damaged('it cannot be taken apart');
  const manifestFile = join(folder, 'manifest.json');
  if (!existsSync(manifestFile)) throw new Problem(`${file} is no backup of Umbral: it has no manifest.`);
  const text = readFileSync(manifestFile, 'utf8');
  const stated = existsSync(`${manifestFile}.sha256`) ? readFileSync(`${manifestFile}.sha256`, 'utf8').trim() : '';
  if (createHash('sha256').update(text).digest('hex') !== stated)
    throw damaged('its manifest is not as it was written');
  const manifest = JSON.parse(text);
  if (manifest.format !== backupFormat)
    throw new Problem(
      `${file} is a backup of another kind (${String(manifest.format).slice(0, 40)}); expected ${backupFormat}.`,
    );
  for (const [name, hash] of Object.entries(manifest.files)) {
    const path = join(folder, name);
    if (!existsSync(path)) throw damaged(`${name} is missing`);
    if ((await sha256Of(path)) !== hash) throw damaged(`${name} is not as it was written`);
  }
  return manifest;
}

/** Writes the manifest with its own checksum beside it. */
export function writeManifest(folder, manifest) {
  const text = `${JSON.stringify(manifest, null, 2)}\n`;
  writeFileSync(join(folder, 'manifest.json'), text);
  writeFileSync(join(folder, 'manifest.json.sha256'), createHash('sha256').update(text).digest('hex'));
}
