import { promisify } from 'node:util';
import { deflateRaw, inflateRaw } from 'node:zlib';
import { TraceCollector, type Instrument, type Summary } from '@umbral/core';
import type { Samples } from './analysis/protocol.ts';
import type { Queries } from './db.ts';

const pack = promisify(deflateRaw);
const unpack = promisify(inflateRaw);

function bytesOf(view: Float64Array | Float32Array): Buffer {
  return Buffer.from(view.buffer, view.byteOffset, view.byteLength);
}

/** Least, greatest and mean of the values that are there; null where none is. */
function figures(values: Float32Array): { min: number | null; max: number | null; mean: number | null } {
  let [min, max, sum, count] = [Infinity, -Infinity, 0, 0];
  for (const x of values) {
    if (x !== x) continue;
    if (x < min) min = x;
    if (x > max) max = x;
    sum += x;
    count++;
  }
  return count === 0 ? { min: null, max: null, mean: null } : { min, max, mean: sum / count };
}

/** Stores a block of samples of a run: times as 64-bit, volts and amperes as 32-bit floats, deflated. */
export async function storeChunk(q: Queries, runId: number, seq: number, samples: Samples): Promise<void> {
  const rows = samples.t.length;
  if (rows === 0) return;
  const { min, max, mean } = figures(samples.i);
  const raw = Buffer.concat([bytesOf(samples.t), bytesOf(samples.v), bytesOf(samples.i)]);
  await q('run_chunks').insert({
    run_id: runId,
    seq,
    rows,
    t0: samples.t[0],
    t1: samples.t[rows - 1],
    min_a: min,
    max_a: max,
    mean_a: mean,
    samples: await pack(raw, { level: 3 }),
  });
}

/** The blocks of a run in order. */
export async function* readChunks(q: Queries, runId: number): AsyncGenerator<Samples> {
  for (let seq = 0; ; seq++) {
    const row = await q('run_chunks')
      .where({ run_id: runId, seq })
      .first<{ rows: number; samples: Buffer } | undefined>('rows', 'samples');
    if (!row) return;
    const raw = await unpack(row.samples);
    const buffer = raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength);
    const n = row.rows;
    yield {
      t: new Float64Array(buffer, 0, n),
      v: new Float32Array(buffer, 8 * n, n),
      i: new Float32Array(buffer, 12 * n, n),
    };
  }
}

/** All samples of a run, reduced where there are very many, with the exact figures of every row. */
export async function loadSamples(
  q: Queries,
  runId: number,
  instrument: Instrument,
): Promise<{ samples: Samples; summary: Summary }> {
  const collector = new TraceCollector();
  for await (const chunk of readChunks(q, runId))
    for (let k = 0; k < chunk.t.length; k++) collector.add(chunk.t[k], chunk.v[k], chunk.i[k]);
  const summary = collector.summary(instrument);
  const { t, v, i } = collector.finish();
  return { samples: { t, v, i }, summary };
}
