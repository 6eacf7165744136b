import { unknownInstrument, unknownSetup, type Instrument } from '@umbral/core';
import { giveTestDatabase } from '../../../testing/database.ts';
import { previewOf } from '../../analysis/describe.ts';
import type { Samples } from '../../analysis/protocol.ts';
import { loadSamples, loadWindow, readChunks, RunStore } from './chunks.ts';
import { db } from '../../record/db.ts';
import { jobInput } from '../../record/input.ts';
import { insertRun } from '../entries/record.ts';
import type { RunRow } from '../../record/rows.ts';
import * as jobEdits from '../entries/job-edits.ts';

giveTestDatabase();

const rows = 400_000;
const all: Samples = {
  t: Float64Array.from({ length: rows }, (_, k) => k / 1000),
  v: new Float32Array(rows).fill(5),
  i: Float32Array.from({ length: rows }, (_, k) => (k === 250_000 ? 4 : 1 + 0.5 * Math.sin(k / 30_000))),
};
const part = (from: number, to: number): Samples => ({
  t: all.t.slice(from, to),
  v: all.v.slice(from, to),
  i: all.i.slice(from, to),
});

/** Stores samples in blocks of a size, as a recording, a log or a form would bring them. */
async function stored(block: number, count = rows): Promise<number> {
  const jobId = await jobEdits.createJob(
    jobInput.validateSync({ label: 'a long run', deviceClass: 'laptop', intake: {} }),
  );
  const runId = await insertRun(db(), jobId, {
    id: 'r1',
    file: 'long.csv',
    typed: null,
    feed: 'battery',
    quantity: 'current',
    instrument: unknownInstrument,
    setup: unknownSetup,
    markers: [],
    contract: null,
    after: null,
  });
  const store = new RunStore(db(), runId);
  for (let at = 0; at < count; at += block) await store.add(part(at, Math.min(count, at + block)));
  await store.finish();
  return runId;
}

/** The row of a stored run, as if its instrument were another. */
async function rowOf(id: number, instrument = unknownInstrument): Promise<RunRow> {
  return { ...((await db()('runs').where({ id }).first()) as unknown as RunRow), instrument };
}

describe('the samples of a run', () => {
  test.each([500, 65_536, rows])(
    'come back as they were, in even blocks, whatever they came in: %d rows',
    async (n) => {
      const id = await stored(n);
      const { samples, summary } = await loadSamples(db(), id, unknownInstrument);
      expect(samples.t).toEqual(all.t);
      expect(samples.i).toEqual(all.i);
      expect(summary.rows).toBe(rows);
      let blocks = 0;
      for await (const _ of readChunks(db(), id)) blocks++;
      expect(blocks).toBe((await db()('run_chunks').where({ run_id: id })).length);
      expect(blocks).toBeLessThanOrEqual(7);
    },
  );

  test('a short run has no levels, and its picture is that of its rows', async () => {
    const id = await stored(1000, 10_000);
    expect(await db()('run_levels').where({ run_id: id })).toEqual([]);
    const drawn = await loadWindow(db(), await rowOf(id), 2, 5);
    expect(drawn).toEqual(previewOf(part(0, 10_000), 2, 5));
  });
});

describe('a picture of a long run', () => {
  let id: number;
  beforeAll(async () => {
    id = await stored(65_536);
  }, 60_000);

  test('from a level says what the rows say, with every spike', async () => {
    const drawn = await loadWindow(db(), await rowOf(id), 0, 400);
    const exact = previewOf(all, 0, 400);
    expect(Math.max(...drawn.high.map((x) => x ?? 0))).toBe(4);
    drawn.mean.forEach((x, k) => expect(x).toBeCloseTo(exact.mean[k]!, 1));
    expect(new Set(drawn.volts)).toEqual(new Set([5]));
  });

  test('looked at closely it is that of the rows', async () => {
    const drawn = await loadWindow(db(), await rowOf(id), 249.5, 250.5);
    expect(drawn).toEqual(previewOf(part(249_400, 250_600), 249.5, 250.5));
    expect(drawn.high.filter((x) => x === 4)).toHaveLength(1);
  });

  test('is corrected for the instrument, also for a probe that was put in backwards', async () => {
    const turned: Instrument = { ...unknownInstrument, gainA: -2, offsetA: 0.5, gainV: 1.25, offsetV: 0 };
    for (const [t0, t1] of [
      [0, 400],
      [249, 251],
    ]) {
      const plain = await loadWindow(db(), await rowOf(id), t0, t1);
      const drawn = await loadWindow(db(), await rowOf(id, turned), t0, t1);
      drawn.mean.forEach((x, k) => expect(x).toBeCloseTo((plain.mean[k]! - 0.5) / -2, 3));
      drawn.low.forEach((x, k) => expect(x).toBeCloseTo((plain.high[k]! - 0.5) / -2, 3));
      expect(drawn.volts.every((x) => x === 4)).toBe(true);
    }
  });

  test('outside the run there is nothing', async () => {
    const drawn = await loadWindow(db(), await rowOf(id), 1000, 1001);
    expect(drawn.mean.every((x) => x === null)).toBe(true);
  });
});
