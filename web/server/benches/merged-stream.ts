import { Outline } from '@umbral/instruments/outline';
import type { StationState } from '@umbral/instruments';
import { readChunks } from '../chunks.ts';
import { db } from '../db.ts';
import { notices } from '../listen.ts';
import { streamOfRecorder } from '../recorder.ts';
import { awayAfterS, knownBenches, type BenchRow } from './benches.ts';
import { liveChannel, type LiveEvent, type LiveSamples } from './live.ts';

const lookEveryMs = 1000;
/** How often a hole in what was heard is looked up in the database. */
const fillEveryMs = 1000;

/** Instruments of a bench that fell silent: what they last showed is not what they show. */
function lost(states: readonly StationState[], bench: string): StationState[] {
  return states.map((s) => ({
    ...s,
    health: 'lost',
    why: `${bench} is not connected`,
    volts: null,
    amps: null,
    outputOn: null,
    armed: null,
  }));
}

interface Bench {
  name: string;
  states: StationState[];
  heardAt: number;
}

/** What one reader has been told of all recorders: that of the database's own computer, and those of benches elsewhere. */
class MergedReader {
  private readonly benches = new Map<number, Bench>();
  private local: StationState[] | null = null;
  /** Rows that the reader has of a recording at a bench elsewhere, and when a hole was last filled. */
  private readonly rows = new Map<number, { rows: number; filledAt: number; busy: boolean }>();

  constructor(private readonly write: (text: string) => void) {}

  async load(): Promise<void> {
    const rows = (await db()<BenchRow>('benches').whereIn('id', await knownBenches())) as (BenchRow & {
      seen_at: Date;
    })[];
    for (const row of rows) {
      const age = Date.now() - row.seen_at.getTime();
      this.benches.set(row.id, { name: row.name, states: row.state ?? [], heardAt: performance.now() - age });
    }
    this.tellStates();
  }

  tellStates(): void {
    const now = performance.now();
    const states = [...(this.local ?? [])];
    for (const { name, states: own, heardAt } of this.benches.values())
      states.push(...(now - heardAt > 1000 * awayAfterS ? lost(own, name) : own));
    if (this.local !== null || this.benches.size > 0) this.event('state', states);
  }

  /** An event of the recorder beside the database, as it came. */
  takeLocal(frame: string): void {
    if (!frame.startsWith('event: state')) return this.write(`${frame}\n\n`);
    const id = /^id: (.*)$/m.exec(frame)?.[0];
    this.local = JSON.parse(/^data: (.*)$/m.exec(frame)?.[1] ?? '[]') as StationState[];
    if (id) this.write(`${id}\n\n`);
    this.tellStates();
  }

  loseLocal(): void {
    this.local = null;
    this.event('away', {});
  }

  takeRemote(told: LiveEvent): void {
    if (told.event === 'state') {
      const name = this.benches.get(told.bench)?.name ?? 'A bench';
      this.benches.set(told.bench, { name, states: told.value, heardAt: performance.now() });
      this.tellStates();
    } else if (told.event === 'samples') this.takeSamples(told.value);
  }

  private takeSamples(samples: LiveSamples): void {
    const { recording, from, t, i } = samples;
    const known = this.rows.get(recording) ?? { rows: 0, filledAt: -Infinity, busy: false };
    this.rows.set(recording, known);
    if (from > known.rows) return void this.fill(recording, known);
    const skip = known.rows - from;
    if (skip >= t.length) return;
    known.rows = from + t.length;
    this.event('samples', { ...samples, from: from + skip, t: t.slice(skip), i: i.slice(skip) });
  }

  /** What this reader has not heard stands in the database by now, or a moment later. */
  private async fill(recording: number, known: { rows: number; filledAt: number; busy: boolean }): Promise<void> {
    const now = performance.now();
    if (known.busy || now - known.filledAt < fillEveryMs) return;
    known.busy = true;
    known.filledAt = now;
    try {
      const outline = new Outline();
      let rows = 0;
      for await (const { t, i } of readChunks(db(), recording, 'recording')) {
        for (let k = 0; k < t.length; k++) outline.add(t[k], i[k]);
        rows += t.length;
      }
      if (rows <= known.rows) return;
      known.rows = rows;
      this.event('outline', { recording, rows, outline: outline.state });
    } finally {
      known.busy = false;
    }
  }

  private event(name: string, value: unknown): void {
    this.write(`event: ${name}\ndata: ${JSON.stringify(value)}\n\n`);
  }
}

/** Hands on whole events of a stream. */
async function frames(stream: ReadableStream<Uint8Array>, take: (frame: string) => void): Promise<void> {
  const decoder = new TextDecoder();
  let text = '';
  const reader = stream.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    text += decoder.decode(value, { stream: true });
    const parts = text.split('\n\n');
    text = parts.pop() ?? '';
    for (const part of parts) take(part);
  }
}

/** What all instruments do, those of benches elsewhere included, until the reader goes. */
export function mergedStream(lastId: string | null, signal: AbortSignal): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  const ends: (() => void)[] = [];
  let isOver = false;
  const stop = (): void => {
    isOver = true;
    for (const end of ends.splice(0)) end();
  };
  return new ReadableStream({
    start(controller) {
      const write = (text: string): void => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          stop();
        }
      };
      const reader = new MergedReader(write);
      const local = async (id: string | null): Promise<void> => {
        while (!isOver) {
          const stream = await streamOfRecorder(id, signal).catch(() => null);
          if (stream) await frames(stream, (frame) => reader.takeLocal(frame)).catch(() => undefined);
          if (isOver) return;
          reader.loseLocal();
          await new Promise((resolve) => setTimeout(resolve, lookEveryMs));
        }
      };
      ends.push(
        notices().hear(liveChannel, (payload) => {
          if (payload !== '') reader.takeRemote(JSON.parse(payload) as LiveEvent);
        }),
      );
      const timer = setInterval(() => reader.tellStates(), lookEveryMs);
      ends.push(() => clearInterval(timer));
      signal.addEventListener('abort', () => {
        stop();
        try {
          controller.close();
        } catch {
          // It was closed before.
        }
      });
      write('retry: 1000\n\n');
      void reader.load().catch(() => undefined);
      void local(lastId);
    },
    cancel: stop,
  });
}

const streamed = { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' };

/**
 * The instruments' events for one reader. Without benches elsewhere it is the recorder's own stream, passed on as it
 * comes; while that does not answer the stream says `away` and ends: a browser asks again after such an end, with what it
 * saw last, but never again after an answer that is an error.
 */
export async function eventsOf(lastId: string | null, signal: AbortSignal): Promise<Response> {
  const benches = await knownBenches().catch(() => []);
  if (benches.length > 0) return new Response(mergedStream(lastId, signal), { headers: streamed });
  const stream = await streamOfRecorder(lastId, signal);
  return new Response(stream ?? 'retry: 1000\nevent: away\ndata: {}\n\n', { headers: streamed });
}
