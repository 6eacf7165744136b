import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { jobInput, runSetupInput } from '../../record/input.ts';
import { policyInput, savePolicy, loadPolicy } from '../shop/policy.ts';
import { packageContents } from '../exchange/packages.ts';
import { addLogRun, addTypedRun, setRunSetup } from './record.ts';
import type { RunRow } from '../../record/rows.ts';
import { blocksOf, loadWindow } from '../jobs/chunks.ts';
import { emptyTrash, eraseJob, applyRetention, loadTrash } from './trash.ts';
import * as jobEdits from './job-edits.ts';

// Threads are bundled by the web build; here the same work runs on the spot.
process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

async function jobWithRun(): Promise<number> {
  const id = await jobEdits.createJob(
    jobInput.validateSync({ label: 'a phone of the van', deviceClass: 'phone', intake: {} }),
  );
  await addTypedRun(id, 'battery 3.9V limit 3A: 0 | prompt 0.07 hold', null);
  return id;
}
const left = async (id: number): Promise<string[]> => {
  const tables = ['runs', 'assessments', 'audit', 'checks', 'openings'];
  const found = await Promise.all(tables.map((t) => db()(t).where({ job_id: id }).first('job_id')));
  return tables.filter((_, k) => found[k] !== undefined);
};

describe('deleting for good', () => {
  test('takes a job out of the trash with everything of it, and leaves a row of its own', async () => {
    const [gone, stays] = [await jobWithRun(), await jobWithRun()];
    await expect(eraseJob(gone, 'by hand')).rejects.toThrow(`Job ${gone} in the trash no longer exists`);
    await jobEdits.setTrashed(gone, true);
    expect((await loadTrash()).map((j) => j.id)).toEqual([gone]);
    await eraseJob(gone, 'by hand');
    expect(await db()('jobs').where({ id: gone })).toEqual([]);
    expect(await left(gone)).toEqual([]);
    expect(await left(stays)).toEqual(['runs', 'assessments', 'audit']);
    const [row] = (await db()('audit').where({ what: 'job deleted for good' })) as { detail: object }[];
    expect(row.detail).toMatchObject({ job: gone, runs: 1, why: 'by hand' });
  });

  test('is the only way: rows of the record are not changed, deleted or emptied otherwise', async () => {
    const id = await jobWithRun();
    for (const table of ['audit', 'assessments']) {
      await expect(db()(table).where({ job_id: id }).delete()).rejects.toThrow('are never changed or deleted');
      await expect(db().raw(`TRUNCATE ${table} CASCADE`)).rejects.toThrow('are never changed or deleted');
    }
    await expect(db()('audit').update({ what: 'nothing' })).rejects.toThrow('never changed');
  });

  test('happens by itself after the days that the policy says, and never without', async () => {
    const [old, young] = [await jobWithRun(), await jobWithRun()];
    for (const id of [old, young]) await jobEdits.setTrashed(id, true);
    await db()('jobs')
      .where({ id: old })
      .update({ deleted_at: db().raw("now() - interval '31 days'") });
    expect(await emptyTrash()).toEqual([]);
    await savePolicy(policyInput.validateSync({ ...(await loadPolicy(db())), success: 80, trashDays: 30 }));
    expect(await emptyTrash()).toEqual([old]);
    expect((await loadTrash()).map((j) => j.id)).toEqual([young]);
  });
});

/** A log of a start, as a supply writes it. */
const log = `t_s,voltage_V,current_A\n${Array.from({ length: 2000 }, (_, k) => `${k / 20},4,${k < 1000 ? 0.001 : 0.3}`).join('\n')}\n`;
const setup = () => runSetupInput.validateSync({ feed: 'battery', setV: '4 V', limitA: '3' });
const runsOf = async (jobId: number): Promise<RunRow[]> =>
  (await db()('runs').where({ job_id: jobId }).orderBy('id')) as unknown as RunRow[];

/** Writes times that only the database writes otherwise. */
async function backdated(work: () => Promise<void>): Promise<void> {
  const set = async (how: 'DISABLE' | 'ENABLE'): Promise<void> => {
    await db().raw(`ALTER TABLE jobs ${how} TRIGGER jobs_closed_since`);
    await db().raw(`ALTER TABLE runs ${how} TRIGGER runs_kept_since`);
  };
  await set('DISABLE');
  await work().finally(() => set('ENABLE'));
}

/** A job with a recorded run that was closed so many months ago. */
async function closedJob(months: number): Promise<{ id: number; run: RunRow }> {
  const id = await jobEdits.createJob(
    jobInput.validateSync({ label: 'a van phone', deviceClass: 'phone', intake: {} }),
  );
  const source = (async function* () {
    yield new TextEncoder().encode(log);
  })();
  await addLogRun(id, {
    fileName: 'start.csv',
    setup: setup(),
    mapping: null,
    source,
    signal: new AbortController().signal,
  });
  const then = db().raw('now() - make_interval(months => ?)', [months]);
  await backdated(async () => {
    await db()('jobs')
      .where({ id })
      .update({ closed_at: then, closed_since: then, outcome_grade: 'measured', outcome_circuit: 'pmic' });
    await db()('runs').where({ job_id: id }).update({ kept_since: then });
  });
  const [run] = await runsOf(id);
  return { id, run };
}
const chunksOf = (runId: number) => db()('run_chunks').where({ run_id: runId });
const keepFor = async (ages: { sampleMonths?: number; auditYears?: number }): Promise<void> => {
  await savePolicy(policyInput.validateSync({ ...(await loadPolicy(db())), success: 80, ...ages }));
};

describe('what is older than the policy keeps', () => {
  test('samples of jobs closed long ago are dropped; picture, figures and what was typed stay', async () => {
    const [old, alsoOld, reference, young] = [
      await closedJob(30),
      await closedJob(26),
      await closedJob(30),
      await closedJob(2),
    ];
    await db()('reference_runs').insert({ run_id: reference.run.id, profile_id: 'van-phone' });
    const before = await loadWindow(db(), old.run, 0, 99.95);
    expect(await applyRetention()).toEqual({ runs: 0, entries: 0 });
    await keepFor({ sampleMonths: 24 });
    // Half of what lies together has to be old: a partition is written anew as a whole.
    expect(await applyRetention()).toEqual({ runs: 0, entries: 0 });
    for (let k = 0; k < 6; k++) await closedJob(28);
    expect(await applyRetention()).toEqual({ runs: 8, entries: 0 });
    expect(
      await Promise.all([old, alsoOld, reference, young].map(async ({ run }) => (await chunksOf(run.id)).length > 0)),
    ).toEqual([false, false, true, true]);
    const [run] = await runsOf(old.id);
    expect(run).toMatchObject({ preview: old.run.preview, shape: old.run.shape, summary: old.run.summary });
    const drawn = await loadWindow(db(), run, 0, 99.95);
    const difference = drawn.mean.map((x, k) => Math.abs((x ?? 0) - (before.mean[k] ?? x ?? 0)));
    expect(difference.filter((x) => x > 0.01).length).toBeLessThanOrEqual(1);
    // It can be given out, read again, and says what it is; what needs every sample is refused in words.
    let rows = 0;
    for await (const block of blocksOf(db(), run)) rows += block.t.length;
    expect(rows).toBe(run.preview.mean.filter((x) => x !== null).length);
    const files = await packageContents(old.id);
    expect(files.map((f) => f.name)).toContain('runs/01-r1.csv');
    await expect(setRunSetup(run.id, run.version, setup())).rejects.toThrow('The samples were deleted on');
    expect(await applyRetention()).toEqual({ runs: 0, entries: 0 });
    expect(await db()('audit').where({ what: 'samples dropped' })).toHaveLength(1);
  });

  test('years of the record go as a whole, said in the record; nothing younger than the policy says', async () => {
    const id = await jobWithRun();
    const year = new Date().getUTCFullYear();
    const at = (y: number): Date => new Date(Date.UTC(y, 5, 1));
    // As a record is that began eight years ago.
    const [earliest, current] = [`audit_until_${year - 6}`, `audit_until_${year}`];
    await db().raw(`ALTER TABLE audit DETACH PARTITION ??`, [current]);
    await db().raw(`CREATE TABLE ?? PARTITION OF audit FOR VALUES FROM (MINVALUE) TO ('${year - 5}-01-01T00:00Z')`, [
      earliest,
    ]);
    await db().raw(
      `ALTER TABLE audit ATTACH PARTITION ?? FOR VALUES FROM ('${year - 5}-01-01T00:00Z') TO ('${year + 1}-01-01T00:00Z')`,
      [current],
    );
    // A clock that is ten years ahead: it lies in the rest until its year comes.
    for (const y of [year - 9, year - 3, year + 10])
      await db()('audit').insert({ job_id: id, what: `of ${y}`, created_at: at(y) });
    const left = async (): Promise<string[]> =>
      (await db()('audit').whereLike('what', 'of %').orderBy('created_at').pluck('what')) as string[];
    expect(await applyRetention()).toMatchObject({ entries: 0 });
    await keepFor({ auditYears: 5 });
    expect(await applyRetention()).toMatchObject({ entries: 1 });
    expect(await left()).toEqual([`of ${year - 3}`, `of ${year + 10}`]);
    expect(await db()('audit').where({ what: 'years of the record dropped' }).pluck('detail')).toEqual([
      { until: year - 6, entries: 1 },
    ]);
    await expect(db().raw(`SELECT drop_audit(now() - interval '3 months')`)).rejects.toThrow('stays for a year');
    await expect(db().raw(`SELECT drop_samples(now())`)).rejects.toThrow('stay for 30 days');
  });

  test('a new partition takes over what lay in the rest, and nothing in it is changed or emptied', async () => {
    const name = `audit_${new Date().getUTCFullYear() + 1}`;
    const id = await jobWithRun();
    await db().raw(`ALTER TABLE audit DETACH PARTITION ??`, [name]);
    await db().raw(`DROP TABLE ??`, [name]);
    await db()('audit').insert({
      job_id: id,
      what: 'of next year',
      created_at: new Date(Date.UTC(new Date().getUTCFullYear() + 1, 5, 1)),
    });
    await db().raw('SELECT open_partitions()');
    await db().raw('SELECT open_partitions()');
    const [{ part }] = (await db()('audit')
      .where({ what: 'of next year' })
      .select(db().raw('tableoid::regclass::text AS part'))) as unknown as { part: string }[];
    expect(part).toContain(name);
    await expect(db()(name).update({ what: 'x' })).rejects.toThrow('never changed');
    await expect(db().raw('TRUNCATE ??', [name])).rejects.toThrow('never changed');
  });
});
