import { bytesAccess, zipFiles, type PackageFiles } from '@umbral/core';
import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { jobInput } from '../../record/input.ts';
import { exportedTables, exportEverything, leftOut } from './export.ts';
import { createJob } from '../entries/job-edits.ts';
import { addTypedRun } from '../entries/record.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));
giveTestDatabase();

/** Tables with their columns, as the migrations make them. */
async function schema(): Promise<Map<string, string[]>> {
  const { rows } = await db().raw<{ rows: { table: string; column: string }[] }>(
    `SELECT c.relname AS table, a.attname AS column FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid
     WHERE c.relnamespace = current_schema()::regnamespace AND c.relkind IN ('r', 'p') AND NOT c.relispartition
     AND a.attnum > 0 AND NOT a.attisdropped AND c.relname NOT LIKE 'knex_%'`,
  );
  const tables = new Map<string, string[]>();
  for (const { table, column } of rows) tables.set(table, [...(tables.get(table) ?? []), column]);
  return tables;
}

async function exported(): Promise<PackageFiles> {
  const bytes = new Uint8Array(await new Response(await exportEverything()).arrayBuffer());
  return zipFiles(bytesAccess(bytes), 'everything.zip');
}

async function textOf(files: PackageFiles, name: string): Promise<string> {
  const parts: Uint8Array[] = [];
  for await (const part of files.open(name)) parts.push(part);
  return Buffer.concat(parts).toString('utf8');
}

test('every table and column leaves, or it is said why not', async () => {
  const tables = await schema();
  const sent = new Map((await exportedTables()).map(({ table, columns }) => [table, columns]));
  for (const [table, columns] of tables)
    for (const column of columns)
      expect([table, column, sent.get(table)?.includes(column) ?? false]).toEqual([
        table,
        column,
        !(table in leftOut) && !(`${table}.${column}` in leftOut),
      ]);
  // What is named is there: a rule for nothing would hide the next mistake.
  for (const name of Object.keys(leftOut)) {
    const [table, column] = name.split('.');
    expect([name, tables.has(table) && (column === undefined || tables.get(table)!.includes(column))]).toEqual([
      name,
      true,
    ]);
  }
});

test('no secret leaves, whatever it is called', async () => {
  const secret = /hash|secret|password|private|pin_|lease|token$/;
  const harmless = ['assessments.inputs_hash'];
  const sent = (await exportedTables()).flatMap(({ table, columns }) => columns.map((c) => `${table}.${c}`));
  expect(sent.filter((name) => secret.test(name.split('.')[1]) && !harmless.includes(name))).toEqual([]);
});

test('the file holds each table with its rows, a table that was added since too, and the jobs, also those in the trash', async () => {
  const jobId = await createJob(
    jobInput.validateSync({ label: 'tablet', deviceClass: 'tablet', dueOn: '2026-12-05', intake: {} }),
  );
  await addTypedRun(jobId, 'battery 4V limit 2A: 0 | prompt 0.1 0.2 hold', undefined);
  const thrown = await createJob(jobInput.validateSync({ label: 'thrown away', deviceClass: 'phone', intake: {} }));
  await db()('jobs').where({ id: thrown }).update({ deleted_at: db().fn.now() });
  await db().raw('CREATE TABLE added_since (id integer, note text, bytes bytea)');
  await db().raw("INSERT INTO added_since VALUES (1, 'new', '\\x0102')");
  const files = await exported();
  await db().raw('DROP TABLE added_since');
  const rows = async (table: string): Promise<Record<string, unknown>[]> =>
    (await textOf(files, `tables/${table}.ndjson`))
      .split('\n')
      .filter(Boolean)
      .map((line) => JSON.parse(line) as Record<string, unknown>);
  expect(await rows('added_since')).toEqual([{ id: 1, note: 'new', bytes: 'AQI=' }]);
  const job = (await rows('jobs')).find((j) => j.id === jobId)!;
  expect(job).toMatchObject({ label: 'tablet', due_at: expect.stringMatching(/^2026-12/) });
  expect(Object.keys(job).sort()).toEqual((await schema()).get('jobs')!.sort());
  expect(await rows('runs')).toMatchObject([{ job_id: jobId, typed: expect.stringContaining('prompt') }]);
  const folder = (of: string, id: number): string => `${of}/${String(id).padStart(4, '0')}/case.json`;
  for (const name of [folder('jobs', jobId), folder('trash', thrown)]) expect(await files.stat(name)).not.toBeNull();
  expect(await files.stat('tables/sessions.ndjson')).toBeNull();
});
