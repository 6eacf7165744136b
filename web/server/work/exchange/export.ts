import { streamZip } from '@umbral/core';
import { addAudit } from '../../record/audit.ts';
import { boardFileOf } from '../boards/board-file.ts';
import { db } from '../../record/db.ts';
import { packageContents } from './packages.ts';

/** Why a table, or a column of one, does not leave: everything else does, whatever the next migration adds. */
export const leftOut: Readonly<Record<string, string>> = {
  sessions: 'secret: who is signed in',
  sign_in_codes: 'secret: codes to sign in with',
  sign_in_tries: 'secret: tries to sign in',
  'people.password_hash': 'secret',
  'people.pin_hash': 'secret',
  'tokens.hash': 'secret',
  'benches.lease': 'secret: who may speak for the bench now',
  'shop_keys.private_key': 'secret: signs the libraries of this shop',
  'known_screens.hash': 'secret: screens that may sign in with a PIN',
  requests: 'answers that are kept for a few minutes, so that nothing is done twice',
  run_chunks: 'samples of runs: they are in the case packages',
  run_levels: 'worked out from the samples',
  'attachments.image': 'in the case packages',
  'attachments.thumb': 'worked out from the picture',
  'firmware_dumps.content': 'in the case packages',
  'board_pictures.image': 'in the maps of boards',
  'board_pictures.middle': 'worked out from the picture',
  'library_cases.words': 'worked out from the case, to search by',
};

/** Every table with the columns of it that are exported, as the database has them now. */
export async function exportedTables(): Promise<{ table: string; columns: string[] }[]> {
  const { rows } = await db().raw<{ rows: { table: string; columns: string[] }[] }>(
    `SELECT table_name AS table, array_agg(column_name::text ORDER BY ordinal_position) AS columns
     FROM information_schema.columns WHERE table_schema = current_schema() AND table_name NOT LIKE 'knex_%'
     AND NOT (SELECT relispartition FROM pg_class WHERE oid = format('%I.%I', table_schema, table_name)::regclass)
     GROUP BY 1 ORDER BY 1`,
  );
  return rows
    .filter(({ table }) => !(table in leftOut))
    .map(({ table, columns }) => ({ table, columns: columns.filter((c) => !(`${table}.${c}` in leftOut)) }));
}

const rowsAtOnce = 500;

/** A table as lines of JSON, a row each, read bit by bit from one snapshot; bytes are in base64. */
async function* linesOf(table: string, columns: readonly string[]): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  const rows = db()(table)
    .select(...columns)
    .stream({ highWaterMark: rowsAtOnce }) as AsyncIterable<Record<string, unknown>>;
  for await (const row of rows) {
    const plain = Object.entries(row).map(([name, x]) => [name, Buffer.isBuffer(x) ? x.toString('base64') : x]);
    yield encoder.encode(`${JSON.stringify(Object.fromEntries(plain))}\n`);
  }
}

/** Jobs as case packages; those in the trash stand in a folder of their own. */
async function* jobFiles(): AsyncGenerator<{
  name: string;
  content: AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
}> {
  const jobs = await db()('jobs').where({ is_practice: false }).orderBy('id').select('id', 'deleted_at');
  for (const { id, deleted_at } of jobs) {
    const folder = `${deleted_at ? 'trash' : 'jobs'}/${String(id).padStart(4, '0')}`;
    for (const file of await packageContents(id, true)) yield { name: `${folder}/${file.name}`, content: file.content };
  }
}

/** Maps of boards, with their pictures, each as it can be taken in again. */
async function* boardFiles(): ReturnType<typeof jobFiles> {
  const q = db();
  const models = await q('board_sides').whereNull('deleted_at').distinct('model_key').orderBy('model_key');
  for (const [k, { model_key }] of models.entries()) {
    const file = await boardFileOf(q, model_key, true);
    const name = `boards/${k + 1}-${model_key.replace(/[^\w.-]/g, '_').slice(0, 80)}.json`;
    yield { name, content: [new TextEncoder().encode(`${JSON.stringify(file)}\n`)] };
  }
}

async function* everything(): ReturnType<typeof jobFiles> {
  const about = [
    'Everything stored in this Umbral.',
    'jobs/NNNN/  one case package each (docs/formats.md); zip one to import it',
    'trash/NNNN/ the same of jobs in the trash',
    'tables/     every table, one row per line as JSON; bytes in base64',
    'boards/     a map for each model, with its pictures',
    '',
    'Left out:',
    ...Object.entries(leftOut).map(([what, why]) => `${what}: ${why}`),
    '',
  ];
  yield { name: 'README.txt', content: [new TextEncoder().encode(about.join('\n'))] };
  for (const { table, columns } of await exportedTables())
    yield { name: `tables/${table}.ndjson`, content: linesOf(table, columns) };
  yield* boardFiles();
  yield* jobFiles();
}

/** All jobs as case packages, and the tables beside them, in one zip that is made while it is sent. */
export async function exportEverything(): Promise<ReadableStream<Uint8Array>> {
  await addAudit(db(), null, 'everything exported');
  return streamZip(everything());
}
