import { emptyIntake } from '@umbral/core';
import { giveTestDatabase } from './database.ts';
import { atlasAsked, loadAtlas, loadOverview } from '../features/atlas/queries.ts';
import { loadBench } from '../features/day/queries.ts';
import { loadNotebookPage, lookUpNotebook } from '../features/notebook/queries.ts';
import { callLines, loadScorecard } from '../features/scorecard/queries.ts';
import { loadBenchNow } from '../server/work/day/bench-now.ts';
import { loadDayEnd } from '../server/work/day/day-end.ts';
import { loadJobParts } from '../server/work/day/job-parts.ts';
import { db } from '../server/record/db.ts';
import { jobInput, outcomeInput } from '../server/record/input.ts';
import * as jobEdits from '../server/work/entries/job-edits.ts';
import { changesSince } from '../server/analysis/known-library.ts';
import { addTypedRun } from '../server/work/entries/record.ts';
import { loadTrash } from '../server/work/entries/trash.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../server/analysis/pool.ts', () => jest.requireActual<object>('./in-process-pool.ts'));
giveTestDatabase();

const closedJobs = 20_000;
/** Tables with so many rows or more have grown with the shop. */
const grown = 2000;

/** A closed, confirmed job with its run, its call and its traces, which the others are copies of. */
async function closedJob(): Promise<number> {
  const jobId = await jobEdits.createJob(
    jobInput.validateSync({ label: 'one', model: 'Hillside 3', deviceClass: 'phone', intake: emptyIntake }),
  );
  await addTypedRun(jobId, 'battery 4V limit 2A: 0 | prompt 0.1 0.25 0.35 hold', undefined);
  const { version } = (await db()('jobs').where({ id: jobId }).first('version'))!;
  const outcome = { jobId, version, grade: 'measured', circuit: 'pmic', target: 'coil', fix: 'replaced' };
  await jobEdits.closeJob(outcomeInput.validateSync(outcome));
  return jobId;
}

/** Copies every row that belongs to a job so often, with other models, levels and times. */
async function multiply(jobId: number): Promise<void> {
  const columnsOf = async (table: string): Promise<string[]> => {
    const { rows } = await db().raw<{ rows: { name: string }[] }>(
      `SELECT column_name AS name FROM information_schema.columns WHERE table_schema = current_schema()
       AND table_name = ? AND is_generated = 'NEVER'`,
      [table],
    );
    return rows.map((r) => r.name);
  };
  const copy = async (table: string, where: string, set: Record<string, string>): Promise<void> => {
    const columns = (await columnsOf(table)).filter((c) => c !== 'id' || 'id' in set);
    await db().raw(
      `INSERT INTO ${table} (${columns.map((c) => `"${c}"`).join()})
       SELECT ${columns.map((c) => set[c] ?? `b."${c}"`).join()} FROM ${table} b, generate_series(1, ${closedJobs}) n WHERE ${where}`,
    );
  };
  const ofJob = `b.job_id = ${jobId}`;
  const model = `'Hillside ' || (n % 300)`;
  const closed = `now() - n * interval '3 hours'`;
  const job = { job_id: `${jobId} + 1000 + n`, created_at: closed };
  await copy('jobs', `b.id = ${jobId}`, {
    id: `${jobId} + 1000 + n`,
    model,
    closed_at: closed,
    case_id: 'b.case_id || n',
    deleted_at: `CASE WHEN n % 500 = 0 THEN now() END`,
  });
  for (const table of ['runs', 'assessments', 'audit', 'confirmations']) await copy(table, ofJob, job);
  await copy('library_cases', ofJob, {
    ...job,
    id: 'b.id + 1000 + n',
    case_key: `'case ' || n`,
    model,
    closed_at: closed,
    circuit: `(ARRAY['pmic', 'display', 'rail.run', 'rail.main'])[1 + n % 4]`,
  });
  await copy('library_runs', 'true', { case_id: 'b.case_id + 1000 + n', amps: '(n % 3000) / 1000.0' });
  await copy('calls', ofJob, { ...job, model, closed_at: closed });
  await db().raw('ANALYZE');
}

/** Everything that was asked of the database meanwhile, each question once. */
async function questionsOf(work: () => Promise<unknown>): Promise<Map<string, unknown[]>> {
  const asked = new Map<string, unknown[]>();
  const note = ({ sql, bindings }: { sql: string; bindings?: unknown[] }): void => void asked.set(sql, bindings ?? []);
  db().on('query', note);
  try {
    await work();
  } finally {
    db().off('query', note);
  }
  return asked;
}

interface Plan {
  'Node Type': string;
  'Relation Name'?: string;
  'Actual Rows': number;
  'Rows Removed by Filter'?: number;
  'Sort Space Type'?: string;
  Plans?: Plan[];
}

/** What is wrong with the plan of a question: a table that grew is looked through, or a sort does not fit into memory. */
async function wrongWith(sql: string, bindings: unknown[], tables: ReadonlySet<string>): Promise<string[]> {
  const found: string[] = [];
  const look = (plan: Plan): void => {
    // One that ends at its limit has looked at little.
    const looked = plan['Actual Rows'] + (plan['Rows Removed by Filter'] ?? 0);
    if (plan['Node Type'] === 'Seq Scan' && tables.has(plan['Relation Name'] ?? '') && looked >= grown)
      found.push(`looks through ${plan['Relation Name']}: ${sql}`);
    if (plan['Sort Space Type'] === 'Disk') found.push(`sorts on disk: ${sql}`);
    plan.Plans?.forEach(look);
  };
  for (const statement of sql.split('; ')) {
    if (!/^\s*(select|with)/i.test(statement)) continue;
    const client = (await db().client.acquireConnection()) as {
      query: (text: string, values: unknown[]) => Promise<{ rows: { 'QUERY PLAN': { Plan: Plan }[] }[] }>;
    };
    try {
      const { rows } = await client.query(`EXPLAIN (ANALYZE, FORMAT JSON) ${statement}`, bindings);
      look(rows[0]['QUERY PLAN'][0].Plan);
    } finally {
      await db().client.releaseConnection(client);
    }
  }
  return found;
}

test('no page and no save looks through a table that grows with the shop', async () => {
  const jobId = await closedJob();
  await multiply(jobId);
  const { rows } = await db().raw<{ rows: { name: string }[] }>(
    `SELECT relname AS name FROM pg_class WHERE relnamespace = current_schema()::regnamespace AND relkind = 'r' AND reltuples >= ?`,
    [grown],
  );
  const tables = new Set(rows.map((r) => r.name));
  expect([...tables].sort()).toEqual(
    expect.arrayContaining([
      'assessments',
      expect.stringMatching(/^audit_/),
      'calls',
      'jobs',
      'library_cases',
      'library_runs',
      'runs',
    ]),
  );
  // Whoever begins is told of all of it once, behind the pages.
  await changesSince(0, () => Promise.resolve());
  const now = new Date();
  const ask = (given: object) => loadAtlas(atlasAsked.validateSync({ chosen: {}, ...given }));
  const pages: Record<string, () => Promise<unknown>> = {
    bench: () => loadBench(now),
    sheet: () => loadBenchNow(db(), now),
    'end of a day': () => loadDayEnd(),
    trash: () => loadTrash(),
    scorecard: () => loadScorecard('model'),
    'calls behind a figure': () =>
      callLines({ counted: 'scored', group: { by: 'model', key: 'Hillside 3' }, after: null }),
    'what the atlas offers': () => loadOverview(),
    atlas: () => ask({}),
    'atlas by pattern': () => ask({ chosen: { pattern: 'stall-mid' } }),
    'atlas by model, further on': async () => {
      const { cases } = await ask({ chosen: { model: 'Hillside 3' } });
      return ask({ chosen: { model: 'Hillside 3' }, after: cases.at(-1)?.id });
    },
    'atlas by words': () => ask({ text: 'hillside 17' }),
    'atlas near a job': () => ask({ job: jobId }),
    notebook: () => loadNotebookPage('', null, null),
    'notebook at a level': () => loadNotebookPage('0.19 A', null, null),
    'notebook of a model': () => loadNotebookPage('', 'Hillside 3', null),
    'quick read': () => lookUpNotebook('battery 4V: 0 | prompt 0.1 0.2 hold', 'phone'),
    'parts of a job': () => loadJobParts(jobId),
    'an entry, its verdict and a close': () => closedJob(),
  };
  const wrong: Record<string, string[]> = {};
  for (const [name, page] of Object.entries(pages)) {
    const asked = await questionsOf(page);
    expect(asked.size).toBeGreaterThan(0);
    for (const [sql, bindings] of asked) {
      const found = await wrongWith(sql, bindings, tables);
      if (found.length > 0) (wrong[name] ??= []).push(...found);
    }
  }
  expect(wrong).toEqual({});
});
