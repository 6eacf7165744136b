import { TraceCollector, type Instrument, type Summary } from '@umbral/core';
import { packSamples, unpackSamples } from '@umbral/instruments/samples';
import type { Samples } from './analysis/protocol.ts';
import type { Queries } from './db.ts';

/** Stores a block of samples of a run. */
export async function storeChunk(q: Queries, runId: number, seq: number, samples: Samples): Promise<void> {
  if (samples.t.length === 0) return;
  await q('run_chunks').insert({ run_id: runId, seq, ...(await packSamples(samples)) });
}

/** Where blocks are: those of a run, or of a recording that is under way or not yet a run. */
export type BlocksOf = 'run' | 'recording';

/** The blocks of a run or recording in order. */
export async function* readChunks(q: Queries, id: number, of: BlocksOf = 'run'): AsyncGenerator<Samples> {
  for (let seq = 0; ; seq++) {
    const row = await q(`${of}_chunks`)
      .where({ [`${of}_id`]: id, seq })
      .first<{ rows: number; samples: Buffer } | undefined>('rows', 'samples');
    if (!row) return;
    yield unpackSamples(row);
  }
}

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
