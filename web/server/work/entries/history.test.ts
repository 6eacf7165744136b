import { bytesAccess, engineVersion, readPackage, zipFiles, type Assessment } from '@umbral/core';
import { giveTestDatabase } from '../../../testing/database.ts';
import { reassess, jobsWithOldVerdict } from './reassess.ts';
import { db, transaction } from '../../record/db.ts';
import { actionInput, jobInput } from '../../record/input.ts';
import { saveReading } from '../opened/measure.ts';
import { measureInput } from '../opened/measure-input.ts';
import { exportPackage, storePackage } from '../exchange/packages.ts';
import { addTypedRun } from './record.ts';
import { enterChange } from './repair.ts';
import * as jobEdits from './job-edits.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

const dead = 'dc-in 12V limit 4A: 30mA | prompt 210mA hold';
const healthy = 'dc-in 12V limit 4A: 30mA | prompt 0.4 1.1 2.4 1.6 2.9 1.5 2.8 1.3 1.7 hold';
const newJob = (): Promise<number> =>
  jobEdits.createJob(
    jobInput.validateSync({ label: 'console', deviceClass: 'console', complaintKind: 'no-start', intake: {} }),
  );
const change = (jobId: number, over: object) =>
  enterChange(actionInput.validateSync({ jobId, confirmed: true, ...over }));
const reading = (jobId: number, over: object) =>
  saveReading(
    measureInput.validateSync({
      jobId,
      where: 'coil 2',
      mode: 'resistance',
      circuit: 'rail.run',
      text: '0.4 ohm',
      ...over,
    }),
  );
const verdict = async (jobId: number): Promise<Assessment> =>
  ((await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc').first()) as { result: Assessment }).result;
const now = async (jobId: number): Promise<string> => (await verdict(jobId)).now[0].id;

describe('a job over its changes', () => {
  test('what is entered follows the newest change unless it says otherwise, and the verdict knows before from after', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, dead, undefined);
    await reading(jobId, {});
    expect((await verdict(jobId)).circuits[0].id).toBe('rail.run');
    expect((await verdict(jobId)).next[0].kind).toBe('injection');
    await change(jobId, { kind: 'replace', circuit: 'rail.run', target: 'coil 2' });
    await addTypedRun(jobId, healthy, undefined);
    await reading(jobId, { text: '4 kohm' });
    await reading(jobId, { where: 'coil 9', text: '5 kohm', after: '' });
    const rows = await db()('readings').where({ job_id: jobId }).orderBy('id');
    expect(rows.map((r) => r.after_action)).toEqual([null, 'a1', null]);
    expect(await now(jobId)).toBe('works');
    const cured = await verdict(jobId);
    expect(cured.circuits[0]).toMatchObject({ id: 'rail.run' });
    expect(cured.circuits[0].p).toBeGreaterThan(0.85);
    expect(cured.next.every((n) => n.kind === 'verify')).toBe(true);
  });

  test('a change takes back an earlier one of the same job, never one that is missing', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, dead, undefined);
    await change(jobId, { kind: 'disconnect', circuit: 'display' });
    await expect(change(jobId, { kind: 'refit', circuit: 'display', undoes: 'a7' })).rejects.toThrow(/no such change/);
    await change(jobId, { kind: 'refit', circuit: 'display', undoes: 'a1' });
    const rows = await db()('actions').where({ job_id: jobId }).orderBy('id');
    expect(rows.map((r) => r.undoes)).toEqual([null, 'a1']);
    await expect(db()('actions').where({ id: rows[1].id }).update({ undoes: 'a2' })).rejects.toThrow(/actions_undoes/);
    await expect(reading(jobId, { after: 'a9' })).rejects.toThrow(/change/);
  });

  test('the history travels in a package and comes back the same', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, dead, undefined);
    await reading(jobId, { across: true, text: '0.1 ohm', where: 'fuse' });
    await change(jobId, { kind: 'clean', circuit: 'input.port' });
    await addTypedRun(jobId, dead, undefined);
    const { zip } = await exportPackage(jobId);
    const files = await zipFiles(bytesAccess(new Uint8Array(await new Response(zip).arrayBuffer())), 'x.zip');
    const again = await transaction(async (q) => storePackage(q, await readPackage(files), files));
    const of = async (id: number) => ({
      runs: (await db()('runs').where({ job_id: id }).orderBy('id')).map((r) => [r.run_key, r.after_action]),
      readings: (await db()('readings').where({ job_id: id })).map((r) => [r.where, r.across, r.after_action]),
    });
    expect(await of(again)).toEqual(await of(jobId));
  });
});

describe('verdicts of an older engine', () => {
  test('are known for what they are, and made anew one by one; the old ones stay', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, dead, undefined);
    expect(await jobsWithOldVerdict()).not.toContain(jobId);
    const last = await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc').first();
    const { id: _, created_at: __, ...columns } = last!;
    const asJson = Object.fromEntries(
      Object.entries(columns).map(([k, v]) => [
        k,
        v !== null && typeof v === 'object' && !(v instanceof Date) ? JSON.stringify(v) : v,
      ]),
    );
    await db()('assessments').insert({ ...asJson, engine: 'an older one', inputs_hash: 'of the older one' });
    expect(await jobsWithOldVerdict()).toContain(jobId);
    const before = await db()('assessments').where({ job_id: jobId });
    await reassess(jobId);
    expect(await jobsWithOldVerdict()).not.toContain(jobId);
    const after = await db()('assessments').where({ job_id: jobId }).orderBy('id');
    expect(after).toHaveLength(before.length + 1);
    expect(after.at(-1)?.engine).toBe(engineVersion);
  });
});

test('records of before become a history, and stay what they were on the way back', async () => {
  const jobId = await newJob();
  await addTypedRun(jobId, dead, undefined);
  const latest = '20261127_history.cjs';
  await db().migrate.down({ name: latest });
  expect(await db().schema.hasTable('injections')).toBe(false);
  const old = { job_id: jobId, mode: 'voltage', unit: 'V', value: 1 } as const;
  await db()('readings').insert({
    ...old,
    where: 'swings',
    extra: JSON.stringify({ swing: { low: 0, high: 2 }, probe: 9 }),
  });
  await db()('actions').insert({
    job_id: jobId,
    action_key: 'a1',
    kind: 'clean',
    target: '',
    note: '',
    created_at: new Date(Date.now() - 1000),
  });
  await db()('checks').insert({
    job_id: jobId,
    check_id: 'heat-view',
    outcome: 'one-spot',
    note: '',
    extra: JSON.stringify({ hot: 'io', rail: 'io' }),
  });
  await db().migrate.up({ name: latest });
  const [reading0] = await db()('readings').where({ job_id: jobId });
  expect(reading0).toMatchObject({
    swing: { low: 0, high: 2 },
    extra: { probe: 9 },
    across: false,
    after_action: 'a1',
  });
  const [check0] = await db()('checks').where({ job_id: jobId });
  expect(check0).toMatchObject({ where: 'io', rail: 'io', extra: null });
  await db().migrate.down({ name: latest });
  const [back] = await db()('readings').where({ job_id: jobId });
  expect(back.extra).toEqual({ swing: { low: 0, high: 2 }, probe: 9 });
  await db().migrate.up({ name: latest });
});
