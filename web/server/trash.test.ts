import { giveTestDatabase } from '../testing/database.ts';
import { db } from './db.ts';
import { jobInput } from './input.ts';
import { policyInput, savePolicy, loadPolicy } from './policy.ts';
import { addTypedRun } from './record.ts';
import { emptyTrash, eraseJob, loadTrash } from './trash.ts';
import * as jobEdits from './job-edits.ts';

// Threads are bundled by the web build; here the same work runs on the spot.
process.env.UMBRAL_ENGINE = 'here';
jest.mock('./analysis/pool.ts', () => jest.requireActual<object>('../testing/in-process-pool.ts'));

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
    await expect(eraseJob(gone, 'by hand')).rejects.toThrow(`Job ${gone} in the trash is not there`);
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
