import {
  correctReading,
  envelopeOfBuckets,
  levelFor,
  PyramidBuilder,
  TraceCollector,
  type Buckets,
  type Envelope,
  type Instrument,
  type Summary,
} from '@umbral/core';
import { packBuckets, packSamples, unpackBuckets, unpackSamples } from '@umbral/instruments/samples';
import { previewBins, previewOf, previewOfEnvelopes } from '../../analysis/describe.ts';
import type { Samples } from '../../analysis/protocol.ts';
import type { Preview } from '../../record/rows/run-rows.ts';
import type { Queries } from '../../record/db.ts';
import type { RunRow } from '../../record/rows.ts';

/** Rows in a block of a run; what comes in smaller ones is put together. */
const chunkRows = 65_536;

/** Stores the samples of a run as they come, in even blocks, and builds its coarser levels on the way. */
export class RunStore {
  private seq = 0;
  private rows = 0;
  private waiting: Samples[] = [];
  private waitingRows = 0;
  private readonly levels: { level: number; buckets: Buckets }[] = [];
  private readonly levelSeq: number[] = [];
  private readonly pyramid = new PyramidBuilder((level, buckets) => this.levels.push({ level, buckets }));

  constructor(
    private readonly q: Queries,
    private readonly runId: number,
  ) {}

  /** Takes the next block of samples. */
  async add(samples: Samples): Promise<void> {
    const n = samples.t.length;
    for (let k = 0; k < n; k++) this.pyramid.add(samples.t[k], samples.v[k], samples.i[k]);
    this.rows += n;
    this.waiting.push(samples);
    this.waitingRows += n;
    if (this.waitingRows >= chunkRows) await this.flush();
  }

  private async flush(): Promise<void> {
    if (this.waitingRows === 0) return;
    const samples = joined(this.waiting, this.waitingRows);
    [this.waiting, this.waitingRows] = [[], 0];
    await this.q('run_chunks').insert({ run_id: this.runId, seq: this.seq++, ...(await packSamples(samples)) });
    await this.flushLevels();
  }

  private async flushLevels(): Promise<void> {
    for (const { level, buckets } of this.levels.splice(0)) {
      const seq = (this.levelSeq[level] = (this.levelSeq[level] ?? -1) + 1);
      await this.q('run_levels').insert({ run_id: this.runId, level, seq, ...(await packBuckets(buckets)) });
    }
  }

  /** Writes what is left. A run that is drawn from its rows alone needs no levels. */
  async finish(): Promise<void> {
    await this.flush();
    if (levelFor(this.rows, previewBins) === null) return;
    this.pyramid.finish();
    await this.flushLevels();
  }
}

function joined(parts: Samples[], rows: number): Samples {
  if (parts.length === 1) return parts[0];
  const all: Samples = { t: new Float64Array(rows), v: new Float32Array(rows), i: new Float32Array(rows) };
  let at = 0;
  for (const part of parts) {
    all.t.set(part.t, at);
    all.v.set(part.v, at);
    all.i.set(part.i, at);
    at += part.t.length;
  }
  return all;
}

/** Where blocks are: those of a run, or of a recording that is under way or not yet a run. */
type BlocksOf = 'run' | 'recording';

/** Blocks that are fetched at once: few large ones, many small ones. */
const fetched = { large: 2, small: 64 };

/** The blocks of a run or recording in order. */
export async function* readChunks(q: Queries, id: number, of: BlocksOf = 'run'): AsyncGenerator<Samples> {
  let batch = fetched.large;
  for (let seq = 0; ;) {
    const rows = await q(`${of}_chunks`)
      .where({ [`${of}_id`]: id })
      .where('seq', '>=', seq)
      .orderBy('seq')
      .limit(batch)
      .select<{ seq: number; rows: number; samples: Buffer }[]>('seq', 'rows', 'samples');
    for (const row of rows) yield unpackSamples(row);
    if (rows.length < batch) return;
    seq = rows[rows.length - 1].seq + 1;
    batch = rows[0].rows < chunkRows / 16 ? fetched.small : fetched.large;
  }
}

/** The run as it can still be given out: its samples, or what its picture shows of them once those were dropped. */
export function blocksOf(q: Queries, row: DrawnRow): AsyncIterable<Samples> {
  return row.samples_dropped_at === null ? readChunks(q, row.id) : pictured(row);
}

type DrawnRow = Pick<RunRow, 'id' | 'instrument' | 'preview' | 'samples_dropped_at'>;

async function* pictured({ instrument, preview: { t0, t1, mean, volts } }: DrawnRow): AsyncGenerator<Samples> {
  const { gainA, offsetA, gainV, offsetV } = instrument;
  const drawn = mean.flatMap((i, k) =>
    i === null ? [] : [{ i, v: volts[k], t: t0 + ((k + 0.5) / mean.length) * (t1 - t0) }],
  );
  // As the instrument said it: whoever reads it corrects it as every other run.
  yield {
    t: Float64Array.from(drawn, (d) => d.t),
    v: Float32Array.from(drawn, (d) => (d.v === null ? NaN : d.v * gainV + offsetV)),
    i: Float32Array.from(drawn, (d) => d.i * gainA + offsetA),
  };
}

/** What is said beside a run whose samples were dropped; nothing for any other. */
export const droppedNote = ({ samples_dropped_at: at }: Pick<RunRow, 'samples_dropped_at'>): string[] =>
  at === null
    ? []
    : [
        `The samples were deleted on ${at.toISOString().slice(0, 10)} under the shop policy. The chart and the figures are kept.`,
      ];

/** All samples of a run, reduced where there are very many, with the exact figures of every row. */
export async function loadSamples(
  q: Queries,
  id: number,
  instrument: Instrument,
  of: BlocksOf = 'run',
): Promise<{ samples: Samples; summary: Summary }> {
  const collector = new TraceCollector();
  for await (const chunk of readChunks(q, id, of))
    for (let k = 0; k < chunk.t.length; k++) collector.add(chunk.t[k], chunk.v[k], chunk.i[k]);
  const summary = collector.summary(instrument);
  const { t, v, i } = collector.finish();
  return { samples: { t, v, i }, summary };
}

/** Rows of a run in a stretch, about: a block at the edge lies inside with a share of its rows. */
const rowsWithin = (blocks: readonly { rows: number; t0: number; t1: number }[], t0: number, t1: number): number =>
  blocks.reduce((sum, b) => {
    const share = b.t1 > b.t0 ? (Math.min(t1, b.t1) - Math.max(t0, b.t0)) / (b.t1 - b.t0) : 1;
    return sum + b.rows * Math.max(0, share);
  }, 0);

/**
 * The picture of a stretch of a run, from the coarsest level that still fills it.
 *
 * @param t0 seconds of the run; @param t1 after `t0`
 */
export async function loadWindow(
  q: Queries,
  row: DrawnRow & Pick<RunRow, 'summary'>,
  t0: number,
  t1: number,
): Promise<Preview> {
  const { id: runId, instrument, summary, preview } = row;
  const inside = () => q('run_chunks').where({ run_id: runId }).where('t1', '>=', t0).where('t0', '<=', t1);
  const blocks =
    row.samples_dropped_at === null
      ? await inside().orderBy('seq').select<{ rows: number; t0: number; t1: number }[]>('rows', 't0', 't1')
      : [{ rows: summary.rows, t0: preview.t0, t1: preview.t1 }];
  const level = levelFor(rowsWithin(blocks, t0, t1), previewBins);
  if (level !== null) {
    const found = await q('run_levels')
      .where({ run_id: runId, level })
      .where('t1', '>=', t0)
      .where('t0', '<=', t1)
      .orderBy('seq')
      .select<{ buckets: number; t1: number; data: Buffer }[]>('buckets', 't1', 'data');
    if (found.length > 0) {
      const blocks = await Promise.all(found.map(unpackBuckets));
      const drawn = envelopeOfBuckets(blocks, t0, t1, previewBins);
      return previewOfEnvelopes(corrected(drawn, instrument), correctedVolts(drawn.volts, instrument), t0, t1);
    }
  }
  const parts =
    row.samples_dropped_at === null
      ? await Promise.all(
          (await inside().orderBy('seq').select<{ rows: number; samples: Buffer }[]>('rows', 'samples')).map(
            unpackSamples,
          ),
        )
      : [(await pictured(row).next()).value as Samples];
  const all = joined(
    parts,
    parts.reduce((sum, p) => sum + p.t.length, 0),
  );
  return previewOf({ t: all.t, i: correctedAmps(all.i, instrument), v: correctedVolts(all.v, instrument) }, t0, t1);
}

const correctedAmps = (i: Float32Array, { gainA, offsetA }: Instrument): Float32Array =>
  gainA === 1 && offsetA === 0 ? i : i.map((x) => correctReading(x, gainA, offsetA));
const correctedVolts = (v: Float32Array, { gainV, offsetV }: Instrument): Float32Array =>
  gainV === 1 && offsetV === 0 ? v : v.map((x) => correctReading(x, gainV, offsetV));

function corrected(drawn: Envelope, instrument: Instrument): Envelope {
  const of = (values: Float32Array): Float32Array => correctedAmps(values, instrument);
  const [low, high] = [of(drawn.low), of(drawn.high)];
  // A probe that was put in backwards turns least and greatest over.
  return { ...drawn, mean: of(drawn.mean), ...(instrument.gainA < 0 ? { low: high, high: low } : { low, high }) };
}
