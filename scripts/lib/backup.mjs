import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import {
  closeSync,
  createReadStream,
  createWriteStream,
  existsSync,
  fsyncSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  readFileSync,
  readSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { join, relative } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { capture, Problem } from './run.mjs';

/**
 * Format of the file that a backup is. The first had checksums of the dump alone, the second summed its rows up as text; both
 * are restored still.
 */
export const backupFormat = 'umbral-backup/3';
const earlierFormats = ['umbral-backup/1', 'umbral-backup/2'];
const isAsText = (format) => earlierFormats.includes(format);

/** The program of PostgreSQL, beside its server where that is Debian's. */
export function programOf(name) {
  const base = '/usr/lib/postgresql';
  const versions = existsSync(base) ? readdirSync(base).sort((a, b) => Number(b) - Number(a)) : [];
  const folders = [...versions.map((v) => join(base, v, 'bin')), ...(process.env.PATH ?? '').split(':')];
  const found = folders.map((f) => join(f, name)).find((path) => existsSync(path));
  if (!found) throw new Problem(`${name} is missing. It is in Debian's package postgresql-client.`);
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
 * @param transactions of Knex in which nothing changes and which see the same; each takes the next table when it is done
 * @param format of the backup that it is held against
 */
export async function contentsOf(transactions, format = backupFormat) {
  const { rows: tables } = await transactions[0].raw(
    `SELECT c.oid::regclass::text AS "table", c.relname AS name, array_agg(quote_ident(a.attname) ORDER BY a.attnum) AS columns
     FROM pg_class c JOIN pg_namespace s ON s.oid = c.relnamespace
     JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped AND a.attgenerated = ''
     WHERE s.nspname = 'public' AND c.relkind = 'r' GROUP BY c.oid, c.relname ORDER BY pg_total_relation_size(c.oid) DESC`,
  );
  const left = [...tables];
  const contents = {};
  const sumUp = async (q) => {
    for (let next = left.shift(); next; next = left.shift()) {
      const hash = isAsText(format)
        ? 'hashtextextended(t::text, 0)'
        : `hash_record_extended(ROW(${next.columns.map((c) => `t.${c}`).join()}), 0)`;
      const { rows } = await q.raw(
        `SELECT count(*)::int AS rows, coalesce(sum(${hash}::numeric), 0)::text AS sum FROM ?? AS t`,
        [next.name],
      );
      contents[next.name] = rows[0];
    }
  };
  await Promise.all(transactions.map(sumUp));
  return Object.fromEntries(Object.entries(contents).sort(([a], [b]) => (a < b ? -1 : 1)));
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

/** Every file in a folder, by its way from there. */
export function filesIn(folder) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => !entry.isDirectory())
    .map((entry) => relative(folder, join(entry.parentPath ?? entry.path, entry.name)))
    .sort();
}

/** A folder to work in, beside where the result goes; what one that was killed left there is taken away. */
export function scratchIn(folder, prefix) {
  for (const name of readdirSync(folder).filter((n) => n.startsWith(prefix)))
    if (!isAlive(Number(name.slice(prefix.length).split('-')[0])))
      rmSync(join(folder, name), { recursive: true, force: true });
  return mkdtempSync(join(folder, `${prefix}${process.pid}-`));
}

function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/** What opens a backup that is sealed; null where nobody gave one. */
export const passphrase = () => process.env.UMBRAL_PASSPHRASE || null;

const magic = 'age-encryption.org/v1';

/** Puts a folder into one file; sealed with the passphrase where there is one, so that `age` opens it too. */
export async function pack(folder, file) {
  const tar = spawn('tar', ['--create', '--directory', folder, '.'], { stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  tar.stderr.on('data', (d) => (said += d));
  const ended = once(tar, 'close');
  const out = createWriteStream(file, { mode: 0o600 });
  await pipeline(passphrase() === null ? tar.stdout : await sealed(tar.stdout), out);
  const [code] = await ended;
  if (code !== 0) throw new Problem(`The backup could not be written to ${file}:\n${said.slice(-800)}`);
  const written = openSync(file, 'r');
  fsyncSync(written);
  closeSync(written);
}

async function sealed(stream) {
  const { Encrypter } = await import('age-encryption');
  const sealer = new Encrypter();
  sealer.setPassphrase(passphrase());
  return Readable.fromWeb(await sealer.encrypt(Readable.toWeb(stream)));
}

/** The archive itself, opened where it is sealed. */
async function opened(file, folder) {
  const start = Buffer.alloc(magic.length);
  const given = openSync(file, 'r');
  readSync(given, start);
  closeSync(given);
  if (start.toString() !== magic) return file;
  if (passphrase() === null)
    throw new Problem(`${file} is encrypted. Give its passphrase in UMBRAL_PASSPHRASE. Nothing was restored.`);
  const { Decrypter } = await import('age-encryption');
  const opener = new Decrypter();
  opener.addPassphrase(passphrase());
  const plain = join(folder, 'opened.tar');
  try {
    const stream = await opener.decrypt(Readable.toWeb(createReadStream(file)));
    await pipeline(Readable.fromWeb(stream), createWriteStream(plain, { mode: 0o600 }));
  } catch {
    throw new Problem(
      `${file} cannot be opened. The passphrase is wrong or the file is damaged. Nothing was restored.`,
    );
  }
  return plain;
}

/**
 * Takes a backup apart and looks whether all of it is there and as it was.
 *
 * @returns the manifest, and the folder in which everything lies that it names
 * @throws {Problem} for a file that is none, or that is damaged; nothing was changed then
 */
export async function unpack(file, scratch) {
  const folder = join(scratch, 'files');
  mkdirSync(folder, { recursive: true });
  const damaged = (what) => new Problem(`${file} is damaged: ${what}. Nothing was restored.`);
  const archive = await opened(file, scratch);
  const done = await capture('tar', ['--extract', '--no-same-owner', '--file', archive, '--directory', folder]);
  if (done.code !== 0) throw damaged('it cannot be unpacked');
  const manifestFile = join(folder, 'manifest.json');
  if (!existsSync(manifestFile)) throw new Problem(`${file} is not an Umbral backup: it has no manifest.`);
  const text = readFileSync(manifestFile, 'utf8');
  const stated = existsSync(`${manifestFile}.sha256`) ? readFileSync(`${manifestFile}.sha256`, 'utf8').trim() : '';
  if (createHash('sha256').update(text).digest('hex') !== stated) throw damaged('its manifest was changed');
  const manifest = JSON.parse(text);
  if (![backupFormat, ...earlierFormats].includes(manifest.format))
    throw new Problem(
      `${file} is a backup in another format (${String(manifest.format).slice(0, 40)}); expected ${backupFormat}.`,
    );
  await lookThrough(folder, manifest, damaged);
  return { manifest, folder };
}

/** Every file that is named has to be there as it was written, and none that is not named. */
async function lookThrough(folder, manifest, damaged) {
  for (const [name, hash] of Object.entries(manifest.files)) {
    const path = join(folder, name);
    if (!existsSync(path)) throw damaged(`${name} is missing`);
    if (!lstatSync(path).isFile() || (await sha256Of(path)) !== hash) throw damaged(`${name} was changed`);
  }
  const known = new Set([...Object.keys(manifest.files), 'manifest.json', 'manifest.json.sha256']);
  const isKnown = (name) =>
    known.has(name) ||
    (manifest.format === earlierFormats[0] &&
      /^(dialects|recorder\/spool)\/[^/]+$/.test(name) &&
      lstatSync(join(folder, name)).isFile());
  const foreign = filesIn(folder).find((name) => !isKnown(name));
  if (foreign !== undefined)
    throw damaged(`it contains ${foreign.replace(/\p{C}/gu, '?')}, which is not in its manifest`);
}

/** Writes the manifest with its own checksum beside it. */
export function writeManifest(folder, manifest) {
  const text = `${JSON.stringify(manifest, null, 2)}\n`;
  writeFileSync(join(folder, 'manifest.json'), text);
  writeFileSync(join(folder, 'manifest.json.sha256'), createHash('sha256').update(text).digest('hex'));
}
