import { bytesAccess, readPackage, zipFiles, type Assessment } from '@umbral/core';
import { giveTestDatabase } from '../../../testing/database.ts';
import { runningWaits } from './waits.ts';
import { db, transaction } from '../../record/db.ts';
import { actionInput, jobInput, outcomeInput, runSetupInput } from '../../record/input.ts';
import { saveReading, saveSweep } from '../opened/measure.ts';
import { measureInput, sweepInput } from '../opened/measure-input.ts';
import { exportPackage, storePackage } from '../exchange/packages.ts';
import { saveProof, proofInput, startTimer, undoProof, timerInput } from './proofs.ts';
import { addLogRun, addTypedRun, setRunSetup } from './record.ts';
import { enterChange } from './repair.ts';
import type { JobRow, RunRow } from '../../record/rows.ts';
import * as jobEdits from './job-edits.ts';
import * as entries from './job-entries.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

const dead = 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold';
const healthy = 'battery 4V limit 3A: 0 | prompt 0.1 0.5 1.2 0.6 1.1 0.4 0.9 hold';
const charging = 'usb-c port 1 with-battery: 5V 0.4 9V 1.1 1.6 hold';

const newJob = (over: object = {}): Promise<number> =>
  jobEdits.createJob(
    jobInput.validateSync({ label: 'phone', deviceClass: 'phone', complaintKind: 'no-start', intake: {}, ...over }),
  );
const change = (jobId: number, over: object = {}) =>
  enterChange(
    actionInput.validateSync({
      jobId,
      confirmed: true,
      kind: 'replace',
      circuit: 'rail.run',
      target: 'coil 2',
      ...over,
    }),
  );
const proof = (jobId: number, protocol: string, step: string, over: object) =>
  saveProof(proofInput.validateSync({ jobId, protocol, step, ...over }));
const jobOf = async (jobId: number): Promise<JobRow> => (await db()('jobs').where({ id: jobId }).first()) as JobRow;
const verdict = async (jobId: number): Promise<Assessment> =>
  ((await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc').first()) as { result: Assessment }).result;
const stepOf = async (jobId: number, protocol: string, step: string) =>
  (await verdict(jobId)).proof?.protocols.find((p) => p.id === protocol)?.steps.find((s) => s.id === step);

/** A phone whose coil was replaced after a short was measured there; it starts now. */
async function repaired(over: object = {}): Promise<number> {
  const jobId = await newJob(over);
  await addTypedRun(jobId, dead, undefined);
  await saveReading(
    measureInput.validateSync({ jobId, where: 'coil 2', mode: 'resistance', circuit: 'rail.run', text: '0.4' }),
  );
  await change(jobId);
  await addTypedRun(jobId, healthy, undefined);
  return jobId;
}

describe('a proof', () => {
  test('is shown by a run since the change by itself, by another only where it fits, and says why where it does not', async () => {
    const jobId = await repaired();
    expect(await stepOf(jobId, 'same-setup-as-first', 'again')).toBeUndefined();
    await addTypedRun(jobId, charging, undefined);
    expect(await stepOf(jobId, 'charge-every-port', 'port-1')).toMatchObject({ result: 'pass', shownBy: 'r3' });
    await expect(proof(jobId, 'charge-every-port', 'port-1-flipped', { run: 'r3' })).rejects.toThrow(
      /made at port 1; this step needs port 1, plug flipped/,
    );
    await expect(proof(jobId, 'charge-every-port', 'port-1-flipped', { run: 'r1' })).rejects.toThrow(
      /made before the last change/,
    );
    await expect(proof(jobId, 'charge-every-port', 'port-1-flipped', { result: 'pass' })).rejects.toThrow(
      /needs a run\./,
    );
    await expect(proof(jobId, 'charge-every-port', 'port-9', { result: 'fail' })).rejects.toThrow(/no step/);
    expect((await jobOf(jobId)).stage).toBe('verify');
  });

  test('that fails opens the work again, and the check that it is goes into the record once', async () => {
    const jobId = await repaired();
    const before = (await verdict(jobId)).now.find((n) => n.id === 'works')!.p;
    await proof(jobId, 'picture-touch-sound', 'picture', { result: 'fail', reason: 'half of it dark' });
    const checks = await db()('checks').where({ job_id: jobId });
    expect(checks).toMatchObject([{ check_id: 'screen', outcome: 'dark', after_action: 'a1' }]);
    const after = await verdict(jobId);
    expect(after.now.find((n) => n.id === 'works')!.p).toBeLessThan(before);
    expect((await jobOf(jobId)).stage).toBe('call');
    await undoProof(jobId, 'picture-touch-sound', 'picture');
    expect(await db()('checks').where({ job_id: jobId }).whereNull('deleted_at')).toEqual([]);
    expect((await verdict(jobId)).now.find((n) => n.id === 'works')!.p).toBeCloseTo(before, 6);
  });

  test('without a run or a check counts for the device as it is now: holds for it, fails against it', async () => {
    const jobId = await repaired();
    const works = async (): Promise<number> => (await verdict(jobId)).now.find((n) => n.id === 'works')!.p;
    const before = await works();
    await proof(jobId, 'three-cold-starts', 'first', { result: 'pass' });
    expect(await works()).toBeGreaterThan(before);
    await proof(jobId, 'three-cold-starts', 'second', { result: 'fail', reason: 'stayed black' });
    expect(await works()).toBeLessThan(before);
  });

  test('that is left out says why; a rising battery is read from its two voltages', async () => {
    const jobId = await repaired();
    await addTypedRun(jobId, charging, undefined);
    await expect(proof(jobId, 'picture-touch-sound', 'camera', { result: 'not-done' })).rejects.toThrow(/why/);
    await proof(jobId, 'picture-touch-sound', 'camera', { result: 'not-done', reason: 'none fitted' });
    expect(await stepOf(jobId, 'picture-touch-sound', 'camera')).toMatchObject({ result: 'not-done' });
    const rise = (over: object) => proof(jobId, 'charge-every-port', 'rising', over);
    await expect(rise({ fromV: '3.7 V', toV: '' })).rejects.toThrow(/both voltages/);
    await expect(rise({ fromV: '3.7 V', toV: '3.9', minutes: 1 })).rejects.toThrow(/too close together/);
    await rise({ fromV: '3.71', toV: '3.83', minutes: 20 });
    expect(await stepOf(jobId, 'charge-every-port', 'rising')).toMatchObject({
      result: 'pass',
      because: '3.71 V to 3.83 V in 20 minutes',
    });
  });

  test('needs a change to prove', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, healthy, undefined);
    await expect(proof(jobId, 'soak', 'running', { result: 'pass' })).rejects.toThrow(/There is no repair to verify/);
  });
});

describe('the time of a step', () => {
  const timer = (jobId: number, step = 'running') =>
    startTimer(timerInput.validateSync({ jobId, protocol: 'soak', step }));

  test('stands in the record, sends the job to wait, runs once, and ends with what was seen', async () => {
    const jobId = await repaired({ complaintKind: 'intermittent' });
    await timer(jobId);
    const waits = async () => (await runningWaits(db())).filter((w) => w.jobId === jobId);
    const [wait] = await waits();
    expect(wait).toMatchObject({ kind: 'soak', words: expect.stringMatching(/One hour running/) });
    expect(Date.parse(wait.until!) - Date.now()).toBeGreaterThan(59 * 60_000);
    await expect(timer(jobId)).rejects.toThrow(/already running/);
    await expect(timer(jobId, 'moved')).rejects.toThrow(/has no timer/);
    await expect(proof(jobId, 'soak', 'running', { result: 'pass' })).rejects.toThrow(/takes 1 h, and 1 h are left/);
    expect(await waits()).toHaveLength(1);
    const over = new Date(Date.now() - 1000);
    await db()('proofs').where({ job_id: jobId, step: 'running' }).update({ due_at: over });
    await proof(jobId, 'soak', 'running', { result: 'pass' });
    expect(await jobOf(jobId)).toMatchObject({ stage: 'verify' });
    expect(await waits()).toEqual([]);
    const rows = await db()('proofs').where({ job_id: jobId }).whereNull('deleted_at');
    expect(rows).toMatchObject([{ protocol: 'soak', step: 'running', result: 'pass' }]);
  });

  test('cannot be passed before it was started', async () => {
    const jobId = await repaired({ complaintKind: 'intermittent' });
    await expect(proof(jobId, 'soak', 'running', { result: 'pass' })).rejects.toThrow(/Start its timer first/);
    await proof(jobId, 'soak', 'running', { result: 'not-done', reason: 'fetched today' });
  });
});

describe('the story', () => {
  test('an entry is put under another change; a run never follows a change that names it as the state before', async () => {
    const jobId = await repaired();
    const [first, second] = (await db()('runs').where({ job_id: jobId }).orderBy('id')) as { id: number }[];
    const move = (entryId: number, after: string | null) => entries.moveEntry({ jobId, table: 'runs', entryId, after });
    const works = async (): Promise<number> => (await verdict(jobId)).now.find((n) => n.id === 'works')!.p;
    const shown = await works();
    await move(second.id, null);
    expect(await works()).toBeLessThan(shown);
    await move(second.id, 'a1');
    expect(await works()).toBeCloseTo(shown, 6);
    await expect(move(first.id, 'a1')).rejects.toThrow(/shows the state before this change/);
    await expect(move(first.id, 'a9')).rejects.toThrow(/no such change/);
    await expect(entries.setRunBefore({ jobId, action: 'a1', run: 'r2' })).rejects.toThrow(/made after this change/);
    await entries.setRunBefore({ jobId, action: 'a1', run: 'r1' });
  });

  test('a log follows the newest change, another where that is said, and keeps its own when its setup is corrected', async () => {
    const jobId = await repaired();
    async function* rows(): AsyncGenerator<Uint8Array> {
      const lines = Array.from({ length: 200 }, (_, k) => `${k / 20},4,${k < 100 ? 0.001 : 0.3}`);
      yield new TextEncoder().encode(`t_s,voltage_V,current_A\n${lines.join('\n')}\n`);
    }
    const log = (said: object): Promise<string> =>
      addLogRun(jobId, {
        fileName: 'meter.csv',
        setup: runSetupInput.validateSync({ feed: 'battery', ...said }),
        mapping: null,
        source: rows(),
        signal: new AbortController().signal,
      });
    const after = async (run_key: string) => (await db()('runs').where({ job_id: jobId, run_key }).first()) as RunRow;
    expect((await after(await log({}))).after_action).toBe('a1');
    expect((await after(await log({ after: null }))).after_action).toBeNull();
    await expect(log({ after: 'a9' })).rejects.toThrow(/no such change/);
    const second = await after('r4');
    await setRunSetup(second.id, second.version, runSetupInput.validateSync({ feed: 'battery', setV: '4 V' }));
    expect((await after('r4')).after_action).toBeNull();
    await expect(
      setRunSetup(second.id, second.version + 1, runSetupInput.validateSync({ feed: 'battery', after: 'a9' })),
    ).rejects.toThrow(/no such change/);
  }, 30_000);

  test('the stage follows from what was entered last', async () => {
    const jobId = await newJob();
    const stage = async (): Promise<string> => (await jobOf(jobId)).stage;
    await entries.addCheck({ jobId, check: 'screen', outcome: 'dark', note: '' });
    expect(await stage()).toBe('look');
    await addTypedRun(jobId, dead, undefined);
    expect(await stage()).toBe('call');
    await entries.addCheck({ jobId, check: 'peripherals-unplugged', outcome: 'same', note: '' });
    expect(await stage()).toBe('isolate');
    await saveReading(
      measureInput.validateSync({ jobId, where: 'coil 2', mode: 'resistance', circuit: 'rail.run', text: '0.4' }),
    );
    expect(await stage()).toBe('measure');
    await change(jobId);
    expect(await stage()).toBe('act');
    await addTypedRun(jobId, healthy, undefined);
    expect(await stage()).toBe('verify');
  });
});

describe('many points at once', () => {
  const sweep = (jobId: number, text: string, over: object = {}) =>
    saveSweep(sweepInput.validateSync({ jobId, text, mode: 'resistance', circuit: 'rail.run', ...over }));

  test('are kept together, the one that stands out is said, and one that cannot be read keeps none', async () => {
    const jobId = await newJob();
    const taken = await sweep(jobId, 'coil1 45, coil2 90, coil3 0.4');
    expect(taken).toMatchObject({ kept: true, points: 3, standsOut: [expect.stringMatching(/coil3 reads/)] });
    expect((await verdict(jobId)).circuits[0].id).toBe('rail.run');
    await expect(sweep(jobId, 'coil4 45, coil5')).rejects.toThrow(/point 2, "coil5"/);
    expect(await db()('readings').where({ job_id: jobId })).toHaveLength(3);
  });
});

describe('closing', () => {
  const close = async (jobId: number, over: object) =>
    jobEdits.closeJob(
      outcomeInput.validateSync({ jobId, version: (await jobOf(jobId)).version, target: '', fix: '', ...over }),
    );

  test('keeps what was not shown and when to look again; opening it again forgets both', async () => {
    const jobId = await repaired();
    expect((await verdict(jobId)).conclusion?.outcome).toMatchObject({
      grade: 'measured',
      circuit: 'rail.run',
      target: 'coil 2',
    });
    await close(jobId, { grade: 'measured', circuit: 'rail.run', recallAt: '2027-01-15' });
    const closed = await jobOf(jobId);
    expect(closed.outcome_open).toContain('Three cold starts: not done');
    expect(closed.recall_at?.getMonth()).toBe(0);
    expect(closed.stage).toBe('close');
    await jobEdits.reopenJob(jobId, closed.version);
    expect(await jobOf(jobId)).toMatchObject({ outcome_open: [], recall_at: null });
  });

  test('a job that was not repaired keeps the circuit that was found', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, dead, undefined);
    await close(jobId, { grade: 'not-economical', circuit: 'core.soc' });
    expect(await jobOf(jobId)).toMatchObject({ outcome_circuit: 'core.soc', outcome_extra: null });
  });

  test('a circuit that was proven by measurement teaches without a repair, a suspected one does not', async () => {
    const taught = async (): Promise<number> => {
      const rows = await db()('library_cases').where({ circuit: 'rail.run' }).select('weight');
      return rows.reduce((sum, { weight }) => sum + weight, 0);
    };
    const before = await taught();
    const suspected = await newJob();
    await addTypedRun(suspected, dead, undefined);
    await close(suspected, { grade: 'declined', circuit: 'rail.run' });
    expect(await taught()).toBe(before);
    const proven = await newJob();
    await addTypedRun(proven, dead, undefined);
    await saveReading(
      measureInput.validateSync({
        jobId: proven,
        where: 'coil 2',
        mode: 'resistance',
        circuit: 'rail.run',
        text: '0.4',
      }),
    );
    await close(proven, { grade: 'declined', circuit: 'rail.run' });
    expect(await taught()).toBe(before + 1);
  });
});

test('proofs travel with a case package, and come back as they were', async () => {
  const jobId = await repaired();
  await proof(jobId, 'three-cold-starts', 'first', { result: 'pass', reason: 'after an hour in the cold' });
  const { zip } = await exportPackage(jobId);
  const files = await zipFiles(bytesAccess(new Uint8Array(await new Response(zip).arrayBuffer())), 'case.zip');
  const found = await readPackage(files);
  const back = await transaction((q) => storePackage(q, found, files));
  const of = (id: number) =>
    db()('proofs').where({ job_id: id }).select('protocol', 'step', 'result', 'reason', 'run_key', 'after_action');
  expect(await of(back)).toEqual(await of(jobId));
  expect((await jobOf(back)).stage).toBe('verify');
});
