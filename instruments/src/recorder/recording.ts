import type { Feed, Instrument, Marker, Setup } from '@umbral/core';
import type { Knex } from 'knex';
import type { LiveSample } from '../instrument/index.ts';
import { packSamples } from '../store/samples.ts';

/** What a recording is of. */
export interface RecordingOf {
  jobId: number;
  feed: Feed;
  setup: Setup;
  instrument: Instrument;
  after: string | null;
  /** Ends by itself after so many seconds. */
  stopAfterS?: number | null;
}

export interface Gap {
  t0: number;
  t1: number;
  why: string;
}

export interface RecordingOptions {
  /** How often what has come is written, milliseconds: a crash loses no more than this. */
  everyMs?: number;
  /** Samples that are kept while the database is away; beyond it the recording ends and says so. */
  mostHeld?: number;
  /** @param problem in words; null when it is over */
  trouble?: (problem: string | null) => void;
}

const usualEveryMs = 500;
const usualMostHeld = 4_000_000;
const retryMs = 500;
const rowsInBlock = 20_000;

/**
 * One recording on its way into the database: what comes is held until it is written, and written at least once a second.
 * While the database is away everything is kept and written after. Times are seconds since the recording began.
 */
export class Recording {
  private held: LiveSample[] = [];
  private markers: Marker[] = [];
  private gaps: Gap[] = [];
  private notesWritten = true;
  private seq = 0;
  private timer: NodeJS.Timeout;
  private writing: Promise<void> | null = null;
  private problem: string | null = null;
  private lastT = -Infinity;
  private ended = false;
  /** Samples that came, and that are in the database. */
  rows = 0;
  written = 0;

  private constructor(
    private readonly db: Knex,
    readonly id: number,
    /** On the recorder's clock, seconds. */
    readonly beganAt: number,
    private readonly options: RecordingOptions,
  ) {
    this.timer = setInterval(() => void this.flush(), options.everyMs ?? usualEveryMs);
    this.timer.unref();
  }

  /**
   * Begins a recording: its row is there before the first sample.
   *
   * @param instrumentKey of which there can be one recording at a time
   * @throws {Error} of the database, among them a second recording of the same instrument
   */
  static async begin(
    db: Knex,
    instrumentKey: string,
    of: RecordingOf,
    clock: { now: number; wall: Date },
    options: RecordingOptions = {},
  ): Promise<Recording> {
    const [{ id }] = (await db('recordings')
      .insert({
        job_id: of.jobId,
        instrument_key: instrumentKey,
        feed: of.feed,
        setup: JSON.stringify(of.setup),
        instrument: JSON.stringify(of.instrument),
        after_action: of.after,
        started_at: clock.wall,
      })
      .returning('id')) as { id: number }[];
    return new Recording(db, id, clock.now, options);
  }

  /** @param sample on the recorder's clock; one that is not after the last is refused by returning false */
  add(sample: LiveSample): boolean {
    const t = sample.t - this.beganAt;
    if (this.ended || t < 0 || t <= this.lastT) return false;
    this.lastT = t;
    this.held.push({ t, v: sample.v, i: sample.i });
    this.rows++;
    if (this.held.length > (this.options.mostHeld ?? usualMostHeld)) {
      this.say('more came than can be held while the database is away; the recording ends here');
      this.ended = true;
    }
    return true;
  }

  mark(marker: Marker): void {
    this.markers.push(marker);
    // One that was told late belongs before those that were told at once.
    this.markers.sort((a, b) => a.t - b.t);
    this.notesWritten = false;
  }

  /** @param from on the recorder's clock */
  gap(from: number, to: number, why: string): void {
    if (to < this.beganAt) return;
    this.gaps.push({ t0: Math.max(0, from - this.beganAt), t1: to - this.beganAt, why });
    this.notesWritten = false;
  }

  private say(problem: string | null): void {
    if (problem === this.problem) return;
    this.problem = problem;
    this.options.trouble?.(problem);
  }

  /** Writes what is held; one write at a time. A failure keeps everything for the next try. */
  private flush(): Promise<void> {
    this.writing ??= this.write().finally(() => (this.writing = null));
    return this.writing;
  }

  private async write(): Promise<void> {
    try {
      while (this.held.length > 0) {
        const block = this.held.slice(0, rowsInBlock);
        const stored = await packSamples({
          t: Float64Array.from(block, (s) => s.t),
          v: Float32Array.from(block, (s) => s.v),
          i: Float32Array.from(block, (s) => s.i),
        });
        // A write whose answer was lost may have arrived all the same: the place in the order is its key.
        await this.db('recording_chunks')
          .insert({ recording_id: this.id, seq: this.seq, ...stored })
          .onConflict(['recording_id', 'seq'])
          .merge();
        this.seq++;
        this.held = this.held.slice(block.length);
        this.written += block.length;
      }
      if (!this.notesWritten) {
        this.notesWritten = true;
        await this.db('recordings')
          .where({ id: this.id })
          .update({ markers: JSON.stringify(this.markers), gaps: JSON.stringify(this.gaps) });
      }
      if (!this.ended) this.say(null);
    } catch (error) {
      this.notesWritten = false;
      this.say(`the database does not take it: ${error instanceof Error ? error.message : String(error)}`);
    }
  }

  /**
   * Ends the recording once everything is in the database, however long that takes.
   *
   * @param giveUp ends the wait: what is held then is lost, and the recording is found as interrupted
   */
  async finish(giveUp?: AbortSignal): Promise<boolean> {
    this.ended = true;
    clearInterval(this.timer);
    while (!giveUp?.aborted) {
      await this.flush();
      if (this.held.length === 0 && this.notesWritten && (await this.end())) return true;
      await new Promise((resolve) => setTimeout(resolve, retryMs));
    }
    return false;
  }

  private async end(): Promise<boolean> {
    try {
      await this.db('recordings')
        .where({ id: this.id, state: 'recording' })
        .update({ state: 'finished', ended_at: this.db.fn.now(), problem: this.problem });
      return true;
    } catch (error) {
      this.say(`the database does not take it: ${error instanceof Error ? error.message : String(error)}`);
      return false;
    }
  }
}

/**
 * Recordings that a recorder left when it died: nobody writes them any more.
 *
 * @returns their ids
 */
export async function markInterrupted(db: Knex): Promise<number[]> {
  const rows = (await db('recordings')
    .where({ state: 'recording' })
    .update({ state: 'interrupted', ended_at: db.fn.now() })
    .returning('id')) as { id: number }[];
  return rows.map((r) => r.id);
}
