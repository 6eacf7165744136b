import { Outline } from '@umbral/instruments/outline';
import type { StationState } from '@umbral/instruments';
import { readChunks } from '../../work/jobs/chunks.ts';
import { db } from '../../record/db.ts';
import { eventAnswer, eventStream, type EventWriter } from '../../record/event-stream.ts';
import { jobNotices } from '../../record/listen.ts';
import { streamOfRecorder } from './recorder.ts';
import { awayAfterS, knownBenches, type BenchRow } from '../benches/benches.ts';
import { liveChannel, type LiveEvent, type LiveSamples } from '../benches/live.ts';

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

/** A recording as one reader follows it. */
interface Followed {
  /** Rows that the reader has. */
  rows: number;
  /** When a hole was last looked up. */
  filledAt: number;
  busy: boolean;
  /** What came after a hole. */
  waiting: LiveSamples[];
}

/** Pieces that wait for a hole to be filled; beyond it the oldest go, and are read from the database. */
const maxWaiting = 300;

/** What one reader has been told of all recorders: that of the database's own computer, and those of benches elsewhere. */
class MergedReader {
  private readonly benches = new Map<number, Bench>();
  private local: StationState[] | null = null;
  /** How far the reader has come in recordings at benches elsewhere. */
  private readonly rows = new Map<number, Followed>();

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
    const { recording, from, t } = samples;
    const known = this.rows.get(recording) ?? { rows: 0, filledAt: -Infinity, busy: false, waiting: [] };
    this.rows.set(recording, known);
    if (from <= known.rows && known.waiting.length === 0) return this.give(samples, known);
    // Something before it was not heard: it waits until that stands in the database, a moment later.
    known.waiting.push(samples);
    if (known.waiting.length > maxWaiting) known.waiting.shift();
    if (t.length > 0) void this.fill(recording, known);
  }

  /** Tells what of these samples the reader does not have. */
  private give(samples: LiveSamples, known: Followed): void {
    const { from, t, i, v } = samples;
    const skip = known.rows - from;
    if (skip >= t.length) return;
    known.rows = from + t.length;
    this.event('samples', { ...samples, from: from + skip, t: t.slice(skip), i: i.slice(skip), v: v.slice(skip) });
  }

  /** Tells what stands in the database of a recording, and then what waited for it. */
  private async fill(recording: number, known: Followed): Promise<void> {
    const now = performance.now();
    if (known.busy || now - known.filledAt < fillEveryMs) return;
    known.busy = true;
    known.filledAt = now;
    try {
      const outline = new Outline();
      let rows = 0;
      for await (const { t, i, v } of readChunks(db(), recording, 'recording')) {
        for (let k = 0; k < t.length; k++) outline.add(t[k], i[k], v[k]);
        rows += t.length;
      }
      if (rows < (known.waiting[0]?.from ?? 0)) return;
      if (rows > known.rows) {
        known.rows = rows;
        this.event('outline', { recording, rows, outline: outline.state });
      }
      while (known.waiting.length > 0 && known.waiting[0].from <= known.rows) this.give(known.waiting.shift()!, known);
    } finally {
      known.busy = false;
    }
  }

  private event(name: string, value: unknown): void {
    this.write(`event: ${name}\ndata: ${JSON.stringify(value)}\n\n`);
  }
}

/** Hands on whole events of a stream, until it ends or nobody listens any more. */
async function frames(
  stream: ReadableStream<Uint8Array>,
  writer: EventWriter,
  take: (frame: string) => void,
): Promise<void> {
  const decoder = new TextDecoder();
  let text = '';
  const reader = stream.getReader();
  writer.atEnd(() => void reader.cancel().catch(() => undefined));
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    text += decoder.decode(value, { stream: true });
    const parts = text.split('\n\n');
    text = parts.pop() ?? '';
    for (const part of parts) take(part);
  }
}

const beatMs = 15_000;

/** What all instruments do, those of benches elsewhere included, until the reader goes. */
function mergedStream(lastId: string | null, signal: AbortSignal): ReadableStream<Uint8Array> {
  return eventStream(signal, beatMs, (writer) => {
    const reader = new MergedReader((text) => writer.write(text));
    const local = async (): Promise<void> => {
      // A recorder that comes back goes on where this reader is.
      let last = lastId;
      while (!writer.isOver) {
        const stream = await streamOfRecorder(last, signal).catch(() => null);
        const take = (frame: string): void => {
          last = /^id: (.*)$/m.exec(frame)?.[1] ?? last;
          reader.takeLocal(frame);
        };
        if (stream) await frames(stream, writer, take).catch(() => undefined);
        if (writer.isOver) return;
        reader.loseLocal();
        await new Promise((resolve) => setTimeout(resolve, lookEveryMs));
      }
    };
    const deaf = jobNotices().hear(liveChannel, (payload) => {
      if (payload !== '') reader.takeRemote(JSON.parse(payload) as LiveEvent);
    });
    const timer = setInterval(() => reader.tellStates(), lookEveryMs);
    writer.atEnd(deaf);
    writer.atEnd(() => clearInterval(timer));
    writer.write('retry: 1000\n\n');
    void reader.load().catch(() => undefined);
    void local();
  });
}

/**
 * The instruments' events for one reader. Without benches elsewhere it is the recorder's own stream, passed on as it
 * comes; while that does not answer the stream says `away` and ends: a browser asks again after such an end, with what it
 * saw last, but never again after an answer that is an error.
 */
export async function eventsOf(lastId: string | null, signal: AbortSignal): Promise<Response> {
  const benches = await knownBenches().catch(() => []);
  if (benches.length > 0) return eventAnswer(mergedStream(lastId, signal));
  const stream = await streamOfRecorder(lastId, signal);
  return eventAnswer(stream ?? 'retry: 1000\nevent: away\ndata: {}\n\n');
}
