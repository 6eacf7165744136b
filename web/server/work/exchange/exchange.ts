import { createHash, createPrivateKey, generateKeyPairSync, sign, type KeyObject } from 'node:crypto';
import { createInterface } from 'node:readline';
import { Readable } from 'node:stream';
import { countOf, librarySettings } from '@umbral/core';
import { addAudit } from '../../record/audit.ts';
import { db, json, transaction, type Queries } from '../../record/db.ts';
import { boardFileOf, takeBoard } from '../boards/board-file.ts';
import { ExpectedError } from '../../record/errors.ts';
import type { LibraryCaseRow, LibraryRunRow, NoteRow, ShopKeyRow } from '../../record/tables.ts';
import { casesHere, findHere, keyOfCase, type KnownCases } from '../library/known-cases.ts';
import { withUpload } from '../../record/upload.ts';
import {
  format,
  maxBytes,
  maxCases,
  type Header,
  fingerprintOf,
  signedText,
  refused,
  headerOf,
  keyOf,
  type Line,
} from '../../analysis/exchange-format';
import { readLibraryLines } from '../../analysis/files.ts';

/** What seals the private key in the database; null where the shop gave none. */
const passphrase = (): string | null => process.env.UMBRAL_PASSPHRASE || null;

/** A private key as it is stored: sealed where the shop gave a passphrase. */
function stored(key: KeyObject): string {
  const words = passphrase();
  const sealed = words === null ? {} : { cipher: 'aes-256-cbc', passphrase: words };
  return key.export({ type: 'pkcs8', format: 'pem', ...sealed }) as string;
}

const isSealed = (pem: string): boolean => pem.includes('ENCRYPTED');

/**
 * The key to sign with, opened.
 *
 * @throws {ExpectedError} for a sealed one without its passphrase
 */
function opened(pem: string): KeyObject {
  try {
    return createPrivateKey({ key: pem, passphrase: passphrase() ?? undefined });
  } catch {
    throw new ExpectedError(
      'input',
      'This shop’s signing key is encrypted. Start Umbral with the UMBRAL_PASSPHRASE it was encrypted with.',
    );
  }
}

/** The key that this shop signs with, made when it is first needed, and sealed once there is a passphrase. */
export async function shopKey(q: Queries): Promise<ShopKeyRow & { fingerprint: string }> {
  const found = await q('shop_keys').where({ id: 1 }).first();
  if (found && passphrase() !== null && !isSealed(found.private_key)) {
    found.private_key = stored(opened(found.private_key));
    await q('shop_keys').where({ id: 1 }).update({ private_key: found.private_key });
  }
  if (found) return { ...found, fingerprint: fingerprintOf(found.public_key) };
  const pair = generateKeyPairSync('ed25519');
  const keys = {
    id: 1,
    public_key: pair.publicKey.export({ type: 'spki', format: 'pem' }) as string,
    private_key: stored(pair.privateKey),
  };
  await q('shop_keys').insert(keys).onConflict('id').ignore();
  return shopKey(q);
}

/**
 * Everything that was confirmed here and every line that was typed, signed by this shop: models, circuits, parts and the
 * shapes of runs, and the maps of boards. No label, serial number, complaint or name of a person is in it.
 *
 * @param withPictures the pictures of the boards as well
 */
export async function exportLibrary(shop: string, licence: string, withPictures = false): Promise<string> {
  const q = db();
  const lines = [...(await caseLines(q)), ...(await noteLines(q)), ...(await boardLines(q, withPictures))].map((x) =>
    JSON.stringify(x),
  );
  const body = lines.map((line) => `${line}\n`).join('');
  const sha256 = createHash('sha256').update(body).digest('hex');
  const key = await shopKey(q);
  const madeAt = new Date().toISOString();
  const signed = signedText({ format, shop, licence, madeAt: new Date(madeAt), sha256 });
  const signature = sign(null, Buffer.from(signed), opened(key.private_key)).toString('base64');
  await addAudit(q, null, 'library exported', { shop, lines: lines.length });
  return `${JSON.stringify({ format, shop, licence, madeAt, publicKey: key.public_key, sha256, signature })}\n${body}`;
}

async function caseLines(q: Queries): Promise<object[]> {
  const cases = (await q('library_cases').whereNotNull('job_id').orderBy('id')) as LibraryCaseRow[];
  const runs = (await q('library_runs as r')
    .join('library_cases as c', 'c.id', 'r.case_id')
    .whereNotNull('c.job_id')
    .orderBy('r.id')
    .select('r.*')) as LibraryRunRow[];
  const runsOf = new Map<number, LibraryRunRow[]>(cases.map((c) => [c.id, []]));
  for (const run of runs) runsOf.get(run.case_id)?.push(run);
  return cases.map((c) => ({
    case: {
      id: c.case_key,
      model: c.model,
      deviceClass: c.device_class,
      circuit: c.circuit,
      element: c.element,
      part: c.part,
      cure: c.cure,
      grade: c.grade,
      weight: c.weight,
      pattern: c.pattern,
      month: c.closed_at.toISOString().slice(0, 7),
      runs: (runsOf.get(c.id) ?? []).map((r) => ({
        run: r.run_key,
        feed: r.feed,
        pattern: r.pattern,
        setup: r.setup,
        data: r.data.toString('base64'),
        outline: r.outline,
        amps: r.amps,
        volts: r.volts,
      })),
    },
  }));
}

async function noteLines(q: Queries): Promise<object[]> {
  const notes = (await q('notes').whereNull('deleted_at').whereNull('library_id').orderBy('id')) as NoteRow[];
  return notes.map(({ model, device_class: deviceClass, feed, volts, amps, setup, circuit, element, hits, of }) => ({
    note: { model, deviceClass, feed, volts, amps, setup, circuit, element, hits, of },
  }));
}

/** Maps of boards, without anything of a job. */
async function boardLines(q: Queries, withPictures: boolean): Promise<object[]> {
  const models = await q('board_sides').whereNull('deleted_at').distinct('model_key').orderBy('model_key');
  const files = await Promise.all(models.map((m) => boardFileOf(q, m.model_key, withPictures)));
  return files.flatMap((board) => (board ? [{ board }] : []));
}

/** What came of a library that was brought. */
export type Imported =
  | { state: 'taken'; cases: number; notes: number; boards: number; known: number; otherwise: string[] }
  /** Nobody here knows whose key it is: it is taken in when somebody says that they asked. */
  | {
      state: 'unknown';
      shop: string;
      licence: string;
      fingerprint: string;
      cases: number;
      notes: number;
      known: number;
    };

/** A library that is being looked through: its lines, told apart from what is here already. */
interface Brought {
  q: Queries;
  fileName: string;
  header: Header;
  fingerprint: string;
  here: KnownCases;
}

/**
 * Takes in a library of another shop: all of it or nothing. Its cases weigh less than own ones and are told apart from them.
 * Everything that can be wrong with it is said before anybody is asked whose it is.
 *
 * @param trusted fingerprint that somebody compared with the other shop; empty where nobody did
 * @throws {ExpectedError} for another version, a damaged or changed file, one that is too large, one that is here already, or
 *   one under a key that nobody knows with nothing in it but cases that are here
 */
export function importLibrary(source: AsyncIterable<Uint8Array>, fileName: string, trusted: string): Promise<Imported> {
  return withUpload(source, fileName, async ({ size, read }) => {
    if (size > maxBytes)
      throw refused(fileName, `is ${Math.round(size / 1e6)} MB; a library has at most ${maxBytes / 1024 / 1024} MB`);
    const header = await headerOf(fileName, read());
    const fingerprint = keyOf(fileName, header);
    return transaction(async (q) => {
      const twin = await q('libraries').where({ sha256: header.sha256 }).first('id');
      if (twin) throw refused(fileName, 'was already imported and has not changed');
      const brought = { q, fileName, header, fingerprint, here: await casesHere(q) };
      const found = { cases: 0, notes: 0, known: 0 };
      await eachLine(brought, read(), (line) => {
        if (line.note) found.notes++;
        if (line.case) found[findHere(brought, line.case) ? 'known' : 'cases']++;
      });
      const isKnown = await q('known_shops').where({ fingerprint }).first();
      if (!isKnown && found.known > 0 && found.cases === 0)
        throw refused(
          fileName,
          `its ${countOf(found.known, 'case')} ${found.known === 1 ? 'is' : 'are'} made of runs that are here already, signed with another key`,
        );
      if (!isKnown && trusted !== fingerprint)
        return { state: 'unknown', shop: header.shop, licence: header.licence, fingerprint, ...found };
      if (!isKnown) await q('known_shops').insert({ fingerprint, public_key: header.publicKey, name: header.shop });
      return takeIn(brought, read());
    });
  });
}

/** Lines that are read at once on their thread, and their characters. */
const batchLines = 200;
const batchCharacters = 1_000_000;

/** Reads the lines after the first, in order. */
async function eachLine(
  { fileName, header }: Pick<Brought, 'fileName' | 'header'>,
  blocks: AsyncIterable<Uint8Array>,
  work: (line: Line) => void | Promise<void>,
): Promise<void> {
  const hash = createHash('sha256');
  let n = 0;
  let characters = 0;
  let batch: string[] = [];
  const readBatch = async (): Promise<void> => {
    if (batch.length === 0) return;
    const lines = await readLibraryLines(fileName, n - batch.length + 1, batch);
    [batch, characters] = [[], 0];
    for (const line of lines) await work(line);
  };
  for await (const line of createInterface({ input: Readable.from(blocks), crlfDelay: Infinity })) {
    n++;
    if (n === 1) continue;
    hash.update(`${line}\n`);
    if (n > maxCases) throw refused(fileName, `has more than ${maxCases.toLocaleString('en')} lines`);
    batch.push(line);
    characters += line.length;
    if (batch.length < batchLines && characters < batchCharacters) continue;
    await readBatch();
  }
  await readBatch();
  if (hash.digest('hex') !== header.sha256)
    throw refused(fileName, 'its lines do not match its signature; it was changed or damaged');
}

async function takeIn(brought: Brought, blocks: AsyncIterable<Uint8Array>): Promise<Imported> {
  const { q, header, fingerprint } = brought;
  const [{ id }] = await q('libraries')
    .insert({ shop: header.shop, licence: header.licence, fingerprint, sha256: header.sha256, made_at: header.madeAt })
    .returning('id');
  const taken = { cases: 0, notes: 0, boards: 0, known: 0, otherwise: [] as string[] };
  await eachLine(brought, blocks, (line) => takeLine(brought, id, line, taken));
  await addAudit(q, null, `library of ${header.shop} imported`, { cases: taken.cases, notes: taken.notes });
  return { state: 'taken', ...taken };
}

async function takeLine(
  brought: Brought,
  libraryId: number,
  line: Line,
  taken: { cases: number; notes: number; boards: number; known: number; otherwise: string[] },
): Promise<void> {
  const { q, header } = brought;
  if (line.note) {
    const { deviceClass, ...note } = line.note;
    await q('notes').insert({ ...note, device_class: deviceClass, library_id: libraryId } as never);
    taken.notes++;
  }
  if (line.board) {
    await takeBoard(q, line.board);
    taken.boards++;
  }
  if (!line.case) return;
  const { id: _, deviceClass, month, runs, weight, ...rest } = line.case;
  const here = findHere(brought, line.case);
  if (here) {
    taken.known++;
    if (here.circuit !== rest.circuit) taken.otherwise.push(here.jobId === null ? here.key : `job ${here.jobId}`);
    return;
  }
  const key = keyOfCase(brought, line.case);
  const [{ id: caseId }] = await q('library_cases')
    .insert({
      ...rest,
      case_key: key,
      library_id: libraryId,
      origin: header.shop,
      device_class: deviceClass,
      weight: weight * librarySettings.weights.imported,
      closed_at: new Date(`${month}-01T00:00:00Z`),
    } as never)
    .returning('id');
  for (const { run, setup, data, ...shape } of runs)
    await q('library_runs').insert({
      ...shape,
      case_id: caseId,
      run_key: run,
      setup: json(setup),
      data: Buffer.from(data, 'base64'),
    } as never);
  brought.here.set(key, { key, circuit: rest.circuit, jobId: null });
  taken.cases++;
}

/** Everything of a library, in the order in which it is put back. */
const rowsOf = {
  libraries: 'id = ?',
  library_cases: 'library_id = ?',
  library_runs: 'case_id IN (SELECT id FROM library_cases WHERE library_id = ?)',
  notes: 'library_id = ?',
};
/** Days for which what was removed can be put back. */
const keptDays = 30;

/** Takes a library out again, with all that it taught; it can be put back for {@link keptDays} days. */
export async function removeLibrary(id: number): Promise<void> {
  await transaction(async (q) => {
    const row = await q('libraries').where({ id }).first('shop');
    if (!row) throw new ExpectedError('missing', 'This library no longer exists.');
    await q.raw('DELETE FROM removed_rows WHERE removed_at < now() - make_interval(days => ?)', [keptDays]);
    for (const [table, where] of Object.entries(rowsOf))
      await q.raw(
        `INSERT INTO removed_rows (library_id, "table", row) SELECT ?, ?, to_jsonb(x) FROM ${table} x WHERE ${where}`,
        [id, table, id],
      );
    await q('libraries').where({ id }).delete();
    await addAudit(q, null, `library of ${row.shop} removed`);
  });
}

/**
 * Puts a library back that was removed, with all that it taught.
 *
 * @throws {ExpectedError} where it was removed too long ago, or was imported again
 */
export async function putLibraryBack(id: number): Promise<void> {
  await transaction(async (q) => {
    const kept = (await q('removed_rows').where({ library_id: id, table: 'libraries' }).first('row')) as
      { row: { shop: string; sha256: string } } | undefined;
    if (!kept) throw new ExpectedError('missing', 'This library was removed too long ago. Import it again.');
    if (await q('libraries').where({ sha256: kept.row.sha256 }).first('id'))
      throw new ExpectedError('conflict', 'This library was imported again in the meantime.');
    for (const table of Object.keys(rowsOf)) {
      const { rows } = await q.raw<{ rows: { name: string }[] }>(
        `SELECT 'x.' || quote_ident(attname) AS name FROM pg_attribute
           WHERE attrelid = ?::regclass AND attnum > 0 AND NOT attisdropped AND attgenerated = ''`,
        [table],
      );
      const columns = rows.map((r) => r.name).join(', ');
      await q.raw(
        `INSERT INTO ${table} (${columns.replaceAll('x.', '')}) SELECT ${columns} FROM removed_rows k,
           jsonb_populate_record(NULL::${table}, k.row) x WHERE k.library_id = ? AND k."table" = ?`,
        [id, table],
      );
    }
    await q('removed_rows').where({ library_id: id }).delete();
    await addAudit(q, null, `library of ${kept.row.shop} put back`);
  });
}

/** A library that was taken in, for the list. */
export interface ListedLibrary {
  id: number;
  shop: string;
  licence: string;
  fingerprint: string;
  madeAt: string;
  cases: number;
  notes: number;
}

export async function listLibraries(q: Queries): Promise<ListedLibrary[]> {
  const rows = (await q('libraries as l')
    .orderBy('l.id')
    .select(
      'l.*',
      q.raw('(SELECT count(*)::int FROM library_cases c WHERE c.library_id = l.id) AS cases'),
      q.raw('(SELECT count(*)::int FROM notes n WHERE n.library_id = l.id) AS notes'),
    )) as {
    id: number;
    shop: string;
    licence: string;
    fingerprint: string;
    made_at: Date;
    cases: number;
    notes: number;
  }[];
  return rows.map(({ made_at, id, shop, licence, fingerprint, cases, notes }) => ({
    id,
    shop,
    licence,
    fingerprint,
    madeAt: made_at.toISOString().slice(0, 10),
    cases,
    notes,
  }));
}

/** The fingerprint of this shop's own key. */
export async function fingerprintOfShop(): Promise<string> {
  return (await shopKey(db())).fingerprint;
}
