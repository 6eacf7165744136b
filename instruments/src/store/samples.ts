import type { Buckets } from '@umbral/core';
import { promisify } from 'node:util';
import { deflateRaw, inflateRaw } from 'node:zlib';

/** A block of samples: seconds, volts, amperes; NaN where a value is absent. */
export interface SampleBlock {
  t: Float64Array;
  v: Float32Array;
  i: Float32Array;
}

/** A block as the database holds it, with the least, greatest and mean current of its samples. */
export interface StoredBlock {
  rows: number;
  t0: number;
  t1: number;
  min_a: number | null;
  max_a: number | null;
  mean_a: number | null;
  samples: Buffer;
}

const pack = promisify(deflateRaw);
const unpack = promisify(inflateRaw);

function bytesOf(view: Float64Array | Float32Array): Buffer {
  return Buffer.from(view.buffer, view.byteOffset, view.byteLength);
}

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

/**
 * Packs a block: times as 64-bit, volts and amperes as 32-bit floats, deflated.
 *
 * @param block at least one sample
 */
export async function packSamples(block: SampleBlock): Promise<StoredBlock> {
  const rows = block.t.length;
  const { min, max, mean } = figures(block.i);
  const raw = Buffer.concat([bytesOf(block.t), bytesOf(block.v), bytesOf(block.i)]);
  return {
    rows,
    t0: block.t[0],
    t1: block.t[rows - 1],
    min_a: min,
    max_a: max,
    mean_a: mean,
    samples: await pack(raw, { level: 3 }),
  };
}

/** Buckets of a coarser level as the database holds them. */
interface StoredBuckets {
  buckets: number;
  t0: number;
  t1: number;
  data: Buffer;
}

/** Packs buckets: times as 64-bit, currents and volts as 32-bit floats, deflated. */
export async function packBuckets(b: Buckets): Promise<StoredBuckets> {
  const raw = Buffer.concat([bytesOf(b.t), ...[b.low, b.mean, b.high, b.volts].map(bytesOf)]);
  return { buckets: b.t.length, t0: b.t[0], t1: b.end, data: await pack(raw, { level: 3 }) };
}

/** Reads packed buckets again. */
export async function unpackBuckets({
  buckets: n,
  t1,
  data,
}: Pick<StoredBuckets, 'buckets' | 't1' | 'data'>): Promise<Buckets> {
  const raw = await unpack(data);
  const buffer = raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength);
  const floats = (k: number): Float32Array => new Float32Array(buffer, 8 * n + 4 * n * k, n);
  return {
    t: new Float64Array(buffer, 0, n),
    low: floats(0),
    mean: floats(1),
    high: floats(2),
    volts: floats(3),
    end: t1,
  };
}

/** Reads a packed block again. */
export async function unpackSamples({ rows, samples }: Pick<StoredBlock, 'rows' | 'samples'>): Promise<SampleBlock> {
  const raw = await unpack(samples);
  const buffer = raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength);
  return {
    t: new Float64Array(buffer, 0, rows),
    v: new Float32Array(buffer, 8 * rows, rows),
    i: new Float32Array(buffer, 12 * rows, rows),
  };
}
