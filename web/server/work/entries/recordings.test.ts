import { bareCase, genericProfile, unknownInstrument, unknownSetup } from '@umbral/core';
import { packSamples, unpackSamples } from '@umbral/instruments/samples';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DatabaseKeeper, Recording } from '../../../../instruments/src/recorder/index.ts';
import { Spool } from '../../../../instruments/src/store/spool.ts';
import { until } from '../../../../instruments/src/testing/until.ts';
import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { jobInput } from '../../record/input.ts';
import { boundsOf, callOfRecording, saveRecording, leftRecordings } from './recordings.ts';
import { loadContent } from '../jobs/jobs.ts';
import { forgetLive, liveSamples } from './live-trace.ts';
import * as jobEdits from './job-edits.ts';

// Threads are bundled by the web build; here the same work runs on the spot.
process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

const folder = mkdtempSync(join(tmpdir(), 'umbral-recordings-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const kept = () => ({ keeper: new DatabaseKeeper(db()), spool: new Spool(folder) });

const newJob = (): Promise<number> =>
  jobEdits.createJob(jobInput.validateSync({ label: 'a phone on the bench', deviceClass: 'phone', intake: {} }));

/** A stall: quiet, a press at 2 s, then a small hold. */
async function recorded(jobId: number, end: boolean, setA: number | null = null): Promise<number> {
  const of = {
    jobId,
    feed: 'battery' as const,
    setup: { ...unknownSetup, setV: 3.9, limitA: 2, battery: 'disconnected' as const },
    instrument: { ...unknownInstrument, kind: 'bench-supply' as const, resolutionA: 0.001 },
    after: null,
  };
  const recording = await Recording.begin(
    kept(),
    `supply-${jobId}`,
    of,
    { now: 0, wall: () => new Date() },
    { everyMs: 50 },
  );
  recording.mark({ t: 2, event: 'prompt' });
  if (setA !== null) recording.wasSetTo({ t: 0, volts: 3.9, limitA: setA, on: true });
  for (let k = 1; k < 400; k++) recording.add({ t: k * 0.05, v: 3.9, i: k * 0.05 < 2.05 ? 0 : 0.047 });
  recording.gap(9, 9.5, 'it answered late');
  await recording.finish();
  if (!end) await db()('recordings').where({ id: recording.id }).update({ state: 'interrupted' });
  return recording.id;
}

describe('recordings', () => {
  test('become runs with all their samples, markers and gaps, and the job is assessed', async () => {
    const jobId = await newJob();
    const id = await recorded(jobId, true);
    expect((await leftRecordings(db(), jobId)).map((r) => r.id)).toEqual([id]);
    expect(await saveRecording(id)).toEqual({ jobId, key: 'r1' });
    const { runs } = await loadContent(db(), jobId);
    expect(runs).toHaveLength(1);
    expect(runs[0].markers).toEqual([{ t: 2, event: 'prompt' }]);
    expect(runs[0].warnings.join()).toContain('No readings from 9.0 s to 9.5 s: it answered late.');
    const rows = (await db()('run_chunks').where({ run_id: runs[0].id }).sum({ n: 'rows' })) as { n: string }[];
    expect(Number(rows[0].n)).toBe(399);
    const [latest] = (await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc')) as {
      result: { runs: { pattern: { id: string }[] }[] };
    }[];
    expect(latest.result.runs[0].pattern[0].id).toBe('stall-low');
    expect(await leftRecordings(db(), jobId)).toEqual([]);
    await expect(saveRecording(id)).rejects.toThrow('This recording no longer exists.');
  });

  test('one that broke off is kept with what was written, and says so', async () => {
    const jobId = await newJob();
    const { key } = await saveRecording(await recorded(jobId, false));
    const { runs } = await loadContent(db(), jobId);
    expect(runs[0].run_key).toBe(key);
    expect(runs[0].warnings.join()).toContain('The recording');
  });

  test('the call can be asked for while it goes on, and changes nothing', async () => {
    const jobId = await newJob();
    const id = await recorded(jobId, true);
    const call = await callOfRecording(id);
    expect(call?.assessment?.runs[0].pattern[0].id).toBe('stall-low');
    expect(call?.draws.map((d) => d.id)).toEqual(call?.assessment?.circuits.slice(0, 3).map((c) => c.id));
    expect((await loadContent(db(), jobId)).runs).toEqual([]);
  });

  test('what is called while it goes on is what is called when it is kept, with the setup that stands then', async () => {
    const jobId = await newJob();
    const id = await recorded(jobId, true);
    const setup = { ...unknownSetup, setV: 3.9, limitA: 2, battery: 'disconnected' as const };
    const said = { feed: 'battery' as const, setup, after: null };
    const call = await callOfRecording(id, said);
    await db()('recordings').where({ id }).update({ state: 'finished' });
    const { key } = await saveRecording(id, said);
    const content = await loadContent(db(), jobId);
    expect(content.runs[0].setup).toMatchObject(setup);
    const [latest] = await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc');
    expect(latest.result.runs.find((r) => r.id === key)?.pattern).toEqual(call?.assessment?.runs[0].pattern);
    expect(latest.result.circuits.map((c) => [c.id, c.p])).toEqual(call?.assessment?.circuits.map((c) => [c.id, c.p]));
  });

  test('a limit that is typed while the output is on changes neither the run nor its call', async () => {
    const [honest, mistaken] = [await newJob(), await newJob()];
    const setup = { ...unknownSetup, setV: 3.9, limitA: 2, battery: 'disconnected' as const };
    const kept: unknown[] = [];
    for (const [jobId, limitA] of [
      [honest, 2],
      [mistaken, 0.05],
    ]) {
      const id = await recorded(jobId, true, 2);
      const said = { feed: 'battery' as const, setup: { ...setup, limitA }, after: null };
      const call = await callOfRecording(id, said);
      await saveRecording(id, said);
      const { runs } = await loadContent(db(), jobId);
      expect(runs[0].setup).toMatchObject({ setV: 3.9, limitA: 2 });
      expect(runs[0].warnings.join(' ').includes('not to what the form said')).toBe(limitA !== 2);
      const [{ result }] = await db()('assessments').where({ job_id: jobId }).orderBy('id', 'desc');
      expect(result.runs[0].pattern).toEqual(call?.assessment?.runs[0].pattern);
      kept.push(result.circuits.map((c) => [c.id, c.p]));
    }
    expect(kept[1]).toEqual(kept[0]);
  });

  test('a feed that comes on after minutes is seen at once, however long nothing was fed', async () => {
    const jobId = await newJob();
    const of = { jobId, feed: 'battery' as const, setup: unknownSetup, instrument: unknownInstrument, after: null };
    const clock = { now: 0, wall: () => new Date() };
    const recording = await Recording.begin(kept(), `supply-${jobId}`, of, clock, { everyMs: 20 });
    for (let k = 0; k < 1300; k++) recording.add({ t: k * 0.05, v: k < 1200 ? 0.01 : 3.9, i: k < 1200 ? 0 : 0.675 });
    await until(async () => (await liveSamples(db(), recording.id, unknownInstrument)).samples.t.length === 1300, 'in');
    expect((await callOfRecording(recording.id))?.assessment?.runs[0].pattern[0].id).toBe('draw-before-prompt');
    await recording.finish();
  });

  test('where setup and log disagree it is asked with both values before it is kept, and said while it is recorded', async () => {
    const jobId = await newJob();
    const id = await recorded(jobId, true);
    const setup = { ...unknownSetup, setV: 2, limitA: 2, battery: 'disconnected' as const };
    const said = { feed: 'battery' as const, setup, after: null };
    const says = 'The setup says that the supply was set to 2.00 V, but 3.90 V was measured.';
    const soFar = await callOfRecording(id, said);
    expect(soFar?.odd).toEqual([says]);
    // A verdict that comes late says up to when it holds.
    expect(soFar?.untilS).toBeCloseTo(19.95, 2);
    await expect(saveRecording(id, said, false)).rejects.toMatchObject({ kind: 'asked', message: says });
    expect((await loadContent(db(), jobId)).runs).toHaveLength(0);
    expect((await leftRecordings(db(), jobId)).map((r) => r.id)).toEqual([id]);
    expect(await saveRecording(id, said, true)).toEqual({ jobId, key: 'r1' });
  });

  test('while nothing feeds the device there is no call', async () => {
    const jobId = await newJob();
    const of = { jobId, feed: 'battery' as const, setup: unknownSetup, instrument: unknownInstrument, after: null };
    const clock = { now: 0, wall: () => new Date() };
    const recording = await Recording.begin(kept(), `supply-${jobId}`, of, clock, { everyMs: 20 });
    for (let k = 0; k < 100; k++) recording.add({ t: k * 0.05, v: 0.01, i: 0 });
    await until(
      async () => (await db()('recording_chunks').where({ recording_id: recording.id })).length > 0,
      'written',
    );
    expect((await callOfRecording(recording.id))?.assessment).toBeNull();
    await recording.finish();
  });

  test('reads only what is new of a recording that goes on', async () => {
    const jobId = await newJob();
    const of = { jobId, feed: 'battery' as const, setup: unknownSetup, instrument: unknownInstrument, after: null };
    const recording = await Recording.begin(
      kept(),
      `supply-${jobId}`,
      of,
      { now: 0, wall: () => new Date() },
      { everyMs: 20 },
    );
    const add = async (from: number, to: number): Promise<void> => {
      for (let k = from; k < to; k++) recording.add({ t: k * 0.05, v: 3.9, i: 0.001 * k });
      await until(async () => {
        const [{ rows }] = (await db()('recording_chunks')
          .where({ recording_id: recording.id })
          .sum('rows as rows')) as {
          rows: string;
        }[];
        return Number(rows) === to;
      }, 'what was added is in the database');
    };
    const read = () => liveSamples(db(), recording.id, unknownInstrument);
    await add(0, 100);
    expect((await read()).samples.t).toHaveLength(100);
    // What was read before is not looked at again: it may as well be gone.
    const [first] = (await db()('recording_chunks').where({ recording_id: recording.id }).orderBy('seq')) as {
      seq: number;
    }[];
    await add(100, 250);
    await db()('recording_chunks').where({ recording_id: recording.id, seq: first.seq }).delete();
    const { samples, summary } = await read();
    expect([...samples.t]).toEqual(Array.from({ length: 250 }, (_, k) => k * 0.05));
    expect(summary).toMatchObject({ rows: 250, firstS: 0 });
    expect(summary.maxA).toBeCloseTo(0.249, 5);
    await recording.finish();
    forgetLive(recording.id);
    expect((await read()).samples.t.length).toBeLessThan(250);
  });

  test('takes the rest of a block that was written again with more rows', async () => {
    const jobId = await newJob();
    const id = await recorded(jobId, true);
    const blocks = (await db()('recording_chunks').where({ recording_id: id }).orderBy('seq')) as {
      seq: number;
      rows: number;
      samples: Buffer;
    }[];
    const last = blocks[blocks.length - 1];
    const { t, v, i } = await unpackSamples(last);
    const half = Math.floor(t.length / 2);
    const part = await packSamples({ t: t.slice(0, half), v: v.slice(0, half), i: i.slice(0, half) });
    const at = { recording_id: id, seq: last.seq };
    await db()('recording_chunks').where(at).update(part);
    const before = (await liveSamples(db(), id, unknownInstrument)).samples.t.length;
    await db()('recording_chunks').where(at).update({ rows: last.rows, samples: last.samples });
    const after = (await liveSamples(db(), id, unknownInstrument)).samples.t;
    expect(after).toHaveLength(before + t.length - half);
    expect([...after]).toEqual([...after].sort((a, b) => a - b));
    expect(after).toHaveLength(399);
  });

  test('one without samples is refused, and stays', async () => {
    const jobId = await newJob();
    const of = { jobId, feed: 'battery' as const, setup: unknownSetup, instrument: unknownInstrument, after: null };
    const recording = await Recording.begin(kept(), 'empty', of, { now: 0, wall: () => new Date() });
    expect(await callOfRecording(recording.id)).toBeNull();
    await expect(saveRecording(recording.id)).rejects.toThrow('still running. Stop it first.');
    await recording.finish();
    await expect(saveRecording(recording.id)).rejects.toThrow('Nothing was recorded');
    expect(await leftRecordings(db(), jobId)).toHaveLength(1);
  });
});

describe('what an output may give', () => {
  const { device } = bareCase({ class: 'phone' }, []);

  test('follows the profile, or the class', () => {
    const profile = genericProfile('phone', false);
    expect(boundsOf(device, 'battery', profile)).toMatchObject({ maxV: profile.battery?.fullV });
    expect(boundsOf(device, 'battery', null).maxV).toBeGreaterThan(4);
    expect(boundsOf(device, 'battery', null).maxV).toBeLessThan(5);
    expect(boundsOf(device, 'battery', null).why).toBe('full battery of a phone in general');
  });
});
