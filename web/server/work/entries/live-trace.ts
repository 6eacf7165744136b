import { TraceCollector, type Instrument, type Summary } from '@umbral/core';
import { unpackSamples } from '@umbral/instruments/samples';
import type { Samples } from '../../analysis/protocol.ts';
import type { Queries } from '../../record/db.ts';

/** What was read of a recording that goes on. */
interface Reading {
  collector: TraceCollector;
  /** The last block that was read, and how many of its rows: one that was written again may have grown. */
  seq: number;
  rows: number;
}

declare global {
  var umbralLiveReadings: Map<number, Reading> | undefined;
}

/** Enough to see a start-up; a longer recording is averaged, so that a call takes as long after ten minutes as after one. */
const samplesKept = 1 << 17;
/** Recordings that go on beside each other, and some that were left. */
const recordingsKept = 8;
const blocksAtOnce = 64;

const readings = (): Map<number, Reading> => (globalThis.umbralLiveReadings ??= new Map());

/** Forgets a recording that has ended. */
export function forgetLive(recordingId: number): void {
  readings().delete(recordingId);
}

/**
 * The samples of a recording up to now. Only what came since the last time is read; what is averaged is at most
 * some hundred thousand samples, whatever its length. The figures of the summary are exact.
 */
export async function liveSamples(
  q: Queries,
  recordingId: number,
  instrument: Instrument,
): Promise<{ samples: Samples; summary: Summary }> {
  const all = readings();
  const reading = all.get(recordingId) ?? { collector: new TraceCollector(samplesKept), seq: 0, rows: 0 };
  // The latest used last: what nobody asked about for long goes first.
  all.delete(recordingId);
  all.set(recordingId, reading);
  for (const id of all.keys()) if (all.size > recordingsKept) all.delete(id);
  await readOn(q, recordingId, reading);
  const summary = reading.collector.summary(instrument);
  const { t, v, i } = reading.collector.soFar();
  return { samples: { t, v, i }, summary };
}

async function readOn(q: Queries, recordingId: number, reading: Reading): Promise<void> {
  for (;;) {
    const blocks = await q('recording_chunks')
      .where({ recording_id: recordingId })
      .where('seq', '>=', reading.seq)
      .orderBy('seq')
      .limit(blocksAtOnce)
      .select<{ seq: number; rows: number; samples: Buffer }[]>('seq', 'rows', 'samples');
    for (const block of blocks) {
      const from = block.seq === reading.seq ? reading.rows : 0;
      if (from < block.rows) {
        const { t, v, i } = await unpackSamples(block);
        for (let k = from; k < t.length; k++) reading.collector.add(t[k], v[k], i[k]);
      }
      Object.assign(reading, { seq: block.seq, rows: block.rows });
    }
    if (blocks.length < blocksAtOnce) return;
  }
}
