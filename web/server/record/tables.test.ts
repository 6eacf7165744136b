import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import * as core from '@umbral/core';
import { columnOf, type Fields } from '@umbral/core';
import ts from 'typescript';
import { giveTestDatabase } from '../../testing/database.ts';
import { db } from './db.ts';

giveTestDatabase();

/** Columns that a row has from another one, or from the definition of its record. */
function inherited(type: string, rows: ReadonlyMap<string, Record<string, boolean>>): Record<string, boolean> {
  const [, name, without = ''] = /^(?:Omit<)?ColumnsOf<typeof (\w+)>(?:, ([^>]+))?/.exec(type) ?? [];
  if (name === undefined) return rows.get(type) ?? {};
  const fields = Object.entries((core as unknown as Record<string, Fields>)[name]);
  return Object.fromEntries(
    fields
      .map(([key, of]): [string, boolean] => [columnOf(key, of), of.byDefault === null])
      .filter(([column]) => !without.includes(`'${column}'`)),
  );
}

/** Columns by table as `tables.ts` and `rows/` declare them: whether each may be null. */
function declared(): Record<string, Record<string, boolean>> {
  const rowFiles = readdirSync(join(__dirname, 'rows')).map((name) => join('rows', name));
  const text = [...rowFiles, 'tables.ts'].map((name) => readFileSync(join(__dirname, name), 'utf8')).join('\n');
  const source = ts.createSourceFile('tables.ts', text, ts.ScriptTarget.Latest, true);
  const rows = new Map<string, Record<string, boolean>>();
  const tables: Record<string, Record<string, boolean>> = {};
  const look = (node: ts.Node): void => {
    if (ts.isInterfaceDeclaration(node) && node.name.text.endsWith('Row')) {
      const own = node.members.map((m) => {
        const type = (m as ts.PropertySignature).type?.getText(source) ?? '';
        return [m.name!.getText(source), type === 'unknown' ? null : / \| null$/.test(type)];
      });
      const above = (node.heritageClauses ?? []).flatMap((h) => h.types.map((t) => inherited(t.getText(source), rows)));
      rows.set(node.name.text, Object.assign({}, ...above, Object.fromEntries(own)) as Record<string, boolean>);
    }
    if (ts.isInterfaceDeclaration(node) && node.name.text === 'Tables')
      for (const m of node.members) {
        const row = /Table<(\w+)>/.exec((m as ts.PropertySignature).type?.getText(source) ?? '')?.[1];
        tables[m.name!.getText(source)] = rows.get(row!)!;
      }
    ts.forEachChild(node, look);
  };
  look(source);
  return tables;
}

test('every table and column is declared as the migrations make it', async () => {
  const { rows } = await db().raw<{ rows: { table: string; column: string; nullable: boolean }[] }>(
    `SELECT table_name AS table, column_name AS column, is_nullable = 'YES' AS nullable
     FROM information_schema.columns WHERE table_schema = current_schema() AND table_name NOT LIKE 'knex_%'
     AND NOT (SELECT relispartition FROM pg_class WHERE oid = format('%I.%I', table_schema, table_name)::regclass)`,
  );
  const made: Record<string, Record<string, boolean>> = {};
  for (const { table, column, nullable } of rows) (made[table] ??= {})[column] = nullable;
  const said = declared();
  expect(Object.keys(said).sort()).toEqual(Object.keys(made).sort());
  for (const [table, columns] of Object.entries(made)) {
    // What is JSON of no stated form says nothing of null.
    const known = Object.fromEntries(Object.entries(columns).map(([c, n]) => [c, said[table][c] === null ? null : n]));
    expect({ table, ...said[table] }).toEqual({ table, ...known });
  }
});

test('what belongs to a job is found by it, however many there are', async () => {
  const { rows } = await db().raw<{ rows: { table: string }[] }>(
    `SELECT c.table_name AS table FROM information_schema.columns c
     WHERE c.table_schema = current_schema() AND c.column_name = 'job_id' AND NOT EXISTS (
       SELECT 1 FROM pg_index i JOIN pg_attribute a ON a.attrelid = i.indrelid AND a.attnum = i.indkey[0]
       WHERE i.indrelid = format('%I.%I', c.table_schema, c.table_name)::regclass AND a.attname = 'job_id' AND i.indpred IS NULL)`,
  );
  expect(rows).toEqual([]);
});
