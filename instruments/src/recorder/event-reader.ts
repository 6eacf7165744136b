import type { SampleBlock } from '../store/samples.ts';
import type { Station } from './station.ts';

/** Where events go. */
export interface EventSink {
  /** @param id `recording:rows` pairs: how far a reader has come who was told this */
  send(event: string, value: unknown, id: string): void;
  /** Nothing happens, and we are still there. */
  beat(): void;
  /** It does not keep up: it gets its samples later, not twice the memory. */
  isFull(): boolean;
  end(): void;
}

/** One reader of the events, and how far it has come in each recording. */
export class EventReader {
  private readonly rows = new Map<number, number>();
  private beatAt = performance.now();

  /** @param lastId `recording:rows` pairs, as this reader was told them */
  constructor(
    private readonly sink: EventSink,
    lastId?: string | string[],
  ) {
    for (const pair of String(lastId ?? '').split(',')) {
      const [recording, rows] = pair.split(':').map(Number);
      if (Number.isInteger(recording) && Number.isInteger(rows) && rows >= 0) this.rows.set(recording, rows);
    }
  }

  end(): void {
    this.sink.end();
  }

  /** What was told may not have arrived: all of it is told again. */
  startAgain(): void {
    this.rows.clear();
  }

  send(
    stations: ReadonlyMap<string, Station>,
    states: Station['state'][],
    withState: boolean,
    health: unknown = null,
  ): void {
    if (this.sink.isFull()) return;
    if (withState) this.write('state', states);
    if (health !== null) this.write('health', health);
    for (const { key, recording } of states) {
      if (!recording) continue;
      const from = this.rows.get(recording.id) ?? 0;
      const found = stations.get(key)?.since(recording.id, from);
      if (!found) continue;
      this.rows.set(recording.id, found.rows);
      const of = { instrument: key, recording: recording.id };
      if ('outline' in found) this.write('outline', { ...of, rows: found.rows, outline: found.outline });
      else this.write('samples', { ...of, from, ...plain(found.samples) });
    }
    // A recording that is over is asked for no more.
    for (const id of this.rows.keys()) if (!states.some((s) => s.recording?.id === id)) this.rows.delete(id);
    if (performance.now() - this.beatAt > 15_000) this.sink.beat();
  }

  private write(event: string, value: unknown): void {
    const id = [...this.rows].map(([recording, rows]) => `${recording}:${rows}`).join(',');
    this.beatAt = performance.now();
    this.sink.send(event, value, id);
  }
}

function plain({ t, v, i }: SampleBlock): { t: number[]; v: number[]; i: number[] } {
  return { t: Array.from(t), v: Array.from(v), i: Array.from(i) };
}
