import { streamZip } from '@umbral/core';
import { addAudit } from '../platform/audit.ts';
import { boardFileOf } from '../boards/board-file.ts';
import { db } from '../platform/db.ts';
import { packageContents } from './packages.ts';

/** Tables beside the jobs themselves; secrets of people, sessions and tokens stay here. */
const tables: Record<string, readonly string[]> = {
  people: ['id', 'name', 'role', 'created_at', 'disabled_at'],
  instruments: ['*'],
  calibrations: ['*'],
  shop_policy: ['*'],
  profiles: ['*'],
  reference_readings: ['*'],
  assessments: ['*'],
  openings: ['*'],
  confirmations: ['*'],
  notes: ['*'],
  libraries: ['*'],
  audit: ['*'],
  benches: ['id', 'key', 'name', 'created_at'],
};

const rowsAtOnce = 500;

/** A table as lines of JSON, a row each, read bit by bit. */
async function* linesOf(table: string, columns: readonly string[]): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  const q = db();
  const order =
    table === 'openings' ? 'job_id' : table === 'people' || columns[0] === '*' ? await firstColumn(table) : 'id';
  for (let offset = 0; ; offset += rowsAtOnce) {
    const rows = (await q(table)
      .select(...columns)
      .orderBy(order)
      .limit(rowsAtOnce)
      .offset(offset)) as object[];
    if (rows.length > 0) yield encoder.encode(`${rows.map((row) => JSON.stringify(row)).join('\n')}\n`);
    if (rows.length < rowsAtOnce) return;
  }
}

async function firstColumn(table: string): Promise<string> {
  return Object.keys(await db()(table).columnInfo())[0];
}

async function* jobFiles(): AsyncGenerator<{
  name: string;
  content: AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
}> {
  const ids = (await db()('jobs')
    .where({ is_practice: false })
    .whereNull('deleted_at')
    .orderBy('id')
    .pluck('id')) as number[];
  for (const id of ids) {
    const folder = `jobs/${String(id).padStart(4, '0')}`;
    for (const file of await packageContents(id)) yield { name: `${folder}/${file.name}`, content: file.content };
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
    'tables/     other tables, one row per line as JSON',
    'boards/     a map for each model, with its pictures',
    '',
  ];
  yield { name: 'README.txt', content: [new TextEncoder().encode(about.join('\n'))] };
  for (const [table, columns] of Object.entries(tables))
    yield { name: `tables/${table}.ndjson`, content: linesOf(table, columns) };
  yield* boardFiles();
  yield* jobFiles();
}

/** All jobs as case packages, and the tables beside them, in one zip that is made while it is sent. */
export async function exportEverything(): Promise<ReadableStream<Uint8Array>> {
  await addAudit(db(), null, 'everything exported');
  return streamZip(everything());
}
