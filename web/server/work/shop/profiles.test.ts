import { profileText, shippedProfile, shippedProfiles, type Profile } from '@umbral/core';
import { giveTestDatabase } from '../../../testing/database.ts';
import { taught } from '../../../testing/taught.ts';
import { beginProfile } from '../library/begin-profile.ts';
import { db, transaction } from '../../record/db.ts';
import { jobInput, outcomeInput, runSetupInput } from '../../record/input.ts';
import { findProfile, listProfiles, profileOfModel, saveProfile, versionsOf } from './profiles.ts';
import { addTypedRun, setRunSetup } from '../entries/record.ts';
import { listReferences, referencesFor, setReference } from '../jobs/references.ts';
import type { JobRow, RunRow } from '../../record/rows.ts';
import * as jobEdits from '../entries/job-edits.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const stall = 'battery 4V: 0 | prompt 0.1 0.25 0.35 hold';
const start = 'battery 3.9V limit 3A: 0 | prompt 0.16 0.32 0.37 0.47 0.5 0.76 0.92 hold';

const save = (profile: Profile, basedOn: number | null, note = '') =>
  transaction((q) => saveProfile(q, profileText(profile), { fileName: 'p.yaml', note, basedOn }));
const newJob = (model: string, label = 'unit'): Promise<number> =>
  jobEdits.createJob(jobInput.validateSync({ label, deviceClass: 'phone', model, intake: {} }));
const jobRow = async (id: number): Promise<JobRow> => (await db()<JobRow>('jobs').where({ id }).first()) as JobRow;
const lastCall = async (jobId: number) =>
  (await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc').first()) as {
    profile: string | null;
    profile_version: number | null;
    result: { circuits: { id: string; p: number }[] };
  };

describe('versions of profiles', () => {
  test('before anything was edited there is what came with the application', async () => {
    expect(await listProfiles(db())).toHaveLength(shippedProfiles.length);
    expect(await findProfile(db(), phone.id)).toEqual({ profile: phone, version: 0 });
    expect(await findProfile(db(), 'nothing-like-it')).toBeNull();
    expect(await findProfile(db(), phone.id, 7)).toBeNull();
  });
  test('every save is a new version; the old ones stay readable', async () => {
    await save({ ...phone, note: 'first' }, 0, 'said first');
    const second = await save({ ...phone, note: 'second' }, 1, 'said second');
    expect(second.version).toBe(2);
    expect((await findProfile(db(), phone.id))?.profile.note).toBe('second');
    expect((await findProfile(db(), phone.id, 1))?.profile.note).toBe('first');
    expect((await findProfile(db(), phone.id, 0))?.profile).toBe(phone);
    expect((await versionsOf(db(), phone.id)).map((v) => [v.version, v.note])).toEqual([
      [2, 'said second'],
      [1, 'said first'],
      [0, 'as shipped'],
    ]);
    expect((await listProfiles(db())).filter((p) => p.profile.id === phone.id)).toHaveLength(1);
  });
  test('one who edits an older version is told, and nothing is stored', async () => {
    const before = (await versionsOf(db(), phone.id)).length;
    await expect(save(phone, 0)).rejects.toThrow(/Someone else saved/);
    expect(await versionsOf(db(), phone.id)).toHaveLength(before);
  });
  test('two who save at once get two versions, or one is told', async () => {
    const one = { ...phone, id: 'own-twice', name: 'Own twice' };
    const done = await Promise.allSettled([save(one, 0), save(one, 0)]);
    expect(done.filter((d) => d.status === 'fulfilled')).toHaveLength(1);
    expect(await versionsOf(db(), 'own-twice')).toHaveLength(1);
  });
  test('what is no profile is refused with its paths', async () => {
    const bad = { ...phone, rails: phone.rails.map((r, k) => (k === 2 ? { ...r, nominalV: -1 } : r)) };
    await expect(save(bad, null)).rejects.toThrow(/p\.yaml: rails\[2\]\.nominalV/);
    await expect(
      transaction((q) => saveProfile(q, 'rails: [', { fileName: 'x.yaml', note: '', basedOn: null })),
    ).rejects.toThrow(/x\.yaml/);
  });
  test('what stands for a class is not changed under everybody', async () => {
    const generic = shippedProfile('generic-phone') as Profile;
    await expect(save(generic, null)).rejects.toThrow(/id and name, and/);
    await expect(save({ ...generic, generic: false }, null)).rejects.toThrow(/id and name, and/);
  });
  test('an editor keeps the id', async () => {
    await expect(
      transaction((q) =>
        saveProfile(q, profileText({ ...phone, id: 'another' }), {
          fileName: '',
          note: '',
          basedOn: null,
          mustBe: phone.id,
        }),
      ),
    ).rejects.toThrow(/expected "tallgate-moorcall-2"/);
  });
  test('versions cannot be changed or deleted', async () => {
    await expect(db()('profiles').update({ note: 'x' })).rejects.toThrow(/never changed/);
    await expect(db()('profiles').delete()).rejects.toThrow(/never changed/);
  });
});

describe('a job and its profile', () => {
  test('a job finds the profile of its model by name, in its latest version, and keeps it', async () => {
    const { version } = await save({ ...phone, id: 'own-kept', name: 'Own kept' }, null);
    const jobId = await newJob('own KEPT');
    expect(await jobRow(jobId)).toMatchObject({ profile: 'own-kept', profile_version: version });
    await addTypedRun(jobId, stall, null);
    await save({ ...phone, id: 'own-kept', name: 'Own kept', note: 'newer' }, version);
    await addTypedRun(jobId, stall, null);
    expect(await lastCall(jobId)).toMatchObject({ profile: 'own-kept', profile_version: version });
    await jobEdits.chooseProfile(jobId, (await jobRow(jobId)).version, 'own-kept');
    expect(await lastCall(jobId)).toMatchObject({ profile: 'own-kept', profile_version: version + 1 });
  });
  test('a model that nobody knows has none, and a job can do without', async () => {
    expect(await profileOfModel(db(), 'never heard of')).toBeNull();
    expect(await profileOfModel(db(), '  ')).toBeNull();
    const jobId = await newJob('Own kept');
    await jobEdits.chooseProfile(jobId, (await jobRow(jobId)).version, null);
    expect(await jobRow(jobId)).toMatchObject({ profile: null, profile_version: 0 });
    await expect(jobEdits.chooseProfile(jobId, (await jobRow(jobId)).version, 'no-such')).rejects.toThrow(/no longer/);
  });
  test('another version makes another call', async () => {
    const slow = {
      ...phone,
      id: 'own-slow',
      name: 'Own slow',
      loads: phone.loads.map((l) => ({
        ...l,
        amps: Object.fromEntries(Object.entries(l.amps).map(([k, a]) => [k, a / 4])),
      })),
    };
    await save({ ...phone, id: 'own-slow', name: 'Own slow' }, null);
    const jobId = await newJob('Own slow');
    await addTypedRun(jobId, stall, null);
    const before = await lastCall(jobId);
    await save(slow, 1);
    await jobEdits.chooseProfile(jobId, (await jobRow(jobId)).version, 'own-slow');
    expect((await lastCall(jobId)).result.circuits).not.toEqual(before.result.circuits);
  });
});

describe('what the shop confirmed', () => {
  const close = async (jobId: number, grade: string, circuit: string | null): Promise<void> =>
    jobEdits.closeJob(
      outcomeInput.validateSync({ jobId, version: (await jobRow(jobId)).version, grade, circuit, target: '', fix: '' }),
    );
  test('counts measured ones in full, cleared ones half, the others not; never the job itself', async () => {
    const ids = await Promise.all(['a', 'b', 'c', 'd'].map((label) => newJob('Counted', label)));
    await close(ids[0], 'measured', 'display');
    await close(ids[1], 'cleared', 'display');
    await close(ids[2], 'not-found', null);
    await close(ids[3], 'disappeared', 'display');
    expect(await taught('Another model')).toEqual({});
    expect(await taught(' counted ')).toEqual({ display: 1.5 });
  });
  test('a job in the trash teaches nothing', async () => {
    const jobId = await newJob('Trashed model');
    await close(jobId, 'measured', 'button');
    expect(await taught('Trashed model')).toEqual({ button: 1 });
    await jobEdits.setTrashed(jobId, true);
    expect(await taught('Trashed model')).toEqual({});
  });
});

describe('reference runs', () => {
  const runOf = async (jobId: number, key = 'r1'): Promise<RunRow> =>
    (await db()<RunRow>('runs').where({ job_id: jobId, run_key: key }).first()) as RunRow;
  test('stand for their model in their setup, until they are taken back', async () => {
    const [healthy, patient] = [await newJob(phone.name, 'healthy'), await newJob(phone.name, 'patient')];
    await addTypedRun(healthy, start, null);
    await addTypedRun(patient, stall, null);
    const [good, bad] = [await runOf(healthy), await runOf(patient)];
    await setReference(healthy, good.id, true);
    await setReference(healthy, good.id, true);
    const [reference, ...more] = await referencesFor(db(), phone.id, bad);
    expect(more).toEqual([]);
    expect(reference).toMatchObject({ runId: good.id, prompted: true });
    expect((await listReferences(db(), phone.id)).map((r) => r.jobId)).toEqual([healthy]);
    const setup = runSetupInput.validateSync({
      feed: 'battery',
      setV: '4 V',
      limitA: '',
      battery: 'absent',
      assembly: 'board-alone',
    });
    await setRunSetup(bad.id, bad.version, setup);
    expect(await referencesFor(db(), phone.id, await runOf(patient))).toEqual([]);
    await setReference(healthy, good.id, false);
    expect(await listReferences(db(), phone.id)).toEqual([]);
  });
  test('a run of a device without a profile stands for nothing', async () => {
    const jobId = await newJob('nobody knows it');
    await addTypedRun(jobId, start, null);
    await expect(setReference(jobId, (await runOf(jobId)).id, true)).rejects.toThrow(/Choose its model first\./);
    await expect(setReference(jobId, 999_999, true)).rejects.toThrow(/no longer/);
  });
});

describe('a profile of a model that has none', () => {
  const laptopJob = (model: string): Promise<number> =>
    jobEdits.createJob(jobInput.validateSync({ label: 'unit', deviceClass: 'laptop', model, intake: {} }));

  test('begins with what all jobs of the model have shown', async () => {
    const [first, second, other] = [
      await laptopJob('Thornwick L2'),
      await laptopJob(' thornwick l2'),
      await laptopJob('Elsewhere'),
    ];
    await addTypedRun(first, 'battery 7.6V limit 3A: 0 | prompt 0.1 hold', null);
    await addTypedRun(second, 'dc-in 19V no-battery: 20mA hold | prompt 20mA hold', null);
    const begun = await beginProfile(db(), first);
    expect(begun.jobs.sort()).toEqual([first, second].sort());
    expect(begun.jobs).not.toContain(other);
    expect(begun.traits.map((t) => t.words)).toContain('two cells');
    expect(begun.profile.battery?.nominalV).toBeCloseTo(7.6, 6);
    const { version } = await save(
      { ...begun.profile, id: 'thornwick-l2', name: 'Thornwick L2', generic: false },
      null,
    );
    expect(version).toBe(1);
    expect((await profileOfModel(db(), 'Thornwick L2'))?.profile.id).toBe('thornwick-l2');
  });
  test('begins with the class alone where nothing was seen', async () => {
    const begun = await beginProfile(db(), await laptopJob('Nothing seen'));
    expect(begun.traits).toEqual([]);
    expect(begun.profile.rails.map((r) => r.id)).toEqual(shippedProfile('generic-laptop')?.rails.map((r) => r.id));
  });
  test('says that there is no such job', () => expect(beginProfile(db(), 999_999)).rejects.toThrow(/Job 999999/));
});
