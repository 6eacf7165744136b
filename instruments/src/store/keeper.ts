import type { Feed, Instrument, Setup } from '@umbral/core';
import type { Knex } from 'knex';
import type { StoredBlock } from './samples.ts';
import type { Notes } from './spool.ts';

/** What a recording is of. */
export interface RecordingOf {
  jobId: number;
  feed: Feed;
  setup: Setup;
  instrument: Instrument;
  after: string | null;
  /** Ends by itself after so many seconds. */
  stopAfterS?: number | null;
  /** Who began it; null where nobody is signed in. */
  person?: number | null;
}

/** Something that was done to an instrument and stands in the record. */
export interface BenchEvent {
  /** Told apart from every other one, so that telling it twice writes it once. */
  key: string;
  /** Both may be missing in an event that waited on disk. */
  jobId?: number | null;
  person?: number | null;
  what: string;
  detail: object;
  at: string;
}

/** Where recordings and events are kept for good. Everything may be repeated without harm. */
export interface Keeper {
  /**
   * @param key told apart from every other beginning, so that asking again gives the same recording
   * @returns the number of the recording
   * @throws {Error} where the record cannot be reached, or the instrument records already
   */
  begin(instrumentKey: string, of: RecordingOf, startedAt: Date, key?: string): Promise<number>;
  block(id: number, seq: number, block: StoredBlock): Promise<void>;
  notes(id: number, notes: Notes): Promise<void>;
  end(id: number, state: 'finished' | 'interrupted', at: Date, problem: string | null): Promise<void>;
  event(event: BenchEvent): Promise<void>;
}

/** Refused for good: asking again changes nothing. */
export class KeeperRefusal extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'KeeperRefusal';
  }
}

/** PostgreSQL's classes of errors that the row itself causes: asking again would give the same. */
const ofTheRow = /^(22|23)/;

/** Of a recording whose recorder died, where nobody knows more. */
export const brokeOff = 'the recorder stopped before this recording ended';

/** Keeps recordings in the database. */
export class DatabaseKeeper implements Keeper {
  /** @param benchId of the bench that records; null for the recorder beside the database */
  constructor(
    private readonly db: Knex,
    private readonly benchId: number | null = null,
  ) {}

  async begin(instrumentKey: string, of: RecordingOf, startedAt: Date, key?: string): Promise<number> {
    const known = key
      ? await this.db('recordings').where({ begin_key: key }).first<{ id: number } | undefined>('id')
      : null;
    if (known) return known.id;
    const [{ id }] = (await this.db('recordings')
      .insert({
        job_id: of.jobId,
        instrument_key: instrumentKey,
        feed: of.feed,
        setup: JSON.stringify(of.setup),
        instrument: JSON.stringify(of.instrument),
        after_action: of.after,
        started_at: startedAt,
        person_id: of.person ?? null,
        bench_id: this.benchId,
        begin_key: key ?? null,
      })
      .returning('id')) as { id: number }[];
    return id;
  }

  async block(id: number, seq: number, block: StoredBlock): Promise<void> {
    // A write whose answer was lost may have arrived all the same: the place in the order is its key.
    await this.write(() =>
      this.db('recording_chunks')
        .insert({ recording_id: id, seq, ...block })
        .onConflict(['recording_id', 'seq'])
        .merge(),
    );
  }

  async notes(id: number, { markers, gaps, setTo = [] }: Notes): Promise<void> {
    const [noted, missed, set] = [markers, gaps, setTo].map((list) => JSON.stringify(list));
    await this.write(() => this.db('recordings').where({ id }).update({ markers: noted, gaps: missed, set_to: set }));
  }

  async end(id: number, state: 'finished' | 'interrupted', at: Date, problem: string | null): Promise<void> {
    // One that a successor found meanwhile and called interrupted is complete after all.
    await this.write(() =>
      this.db('recordings').where({ id }).whereIn('state', ['recording', 'interrupted']).update({
        state,
        ended_at: at,
        problem,
      }),
    );
  }

  async event({ key, jobId, person, what, detail, at }: BenchEvent): Promise<void> {
    await this.write(() =>
      this.db.raw(
        `WITH first AS (INSERT INTO bench_events (key) VALUES (?) ON CONFLICT DO NOTHING RETURNING key)
         INSERT INTO audit (event_key, job_id, person_id, what, detail, created_at)
         SELECT key, ?::int, ?::int, ?, ?::jsonb, ?::timestamptz FROM first`,
        [key, jobId ?? null, person ?? null, what, JSON.stringify(detail), at],
      ),
    );
  }

  private async write(work: () => Promise<unknown>): Promise<void> {
    try {
      await work();
    } catch (error) {
      const { code, message } = error as { code?: string; message: string };
      if (code !== undefined && ofTheRow.test(code)) throw new KeeperRefusal(message);
      throw error;
    }
  }
}

/**
 * Recordings that a recorder left when it died: nobody writes them any more.
 *
 * @param benchId of the bench whose recorder that was; null for the one beside the database
 * @param live those that go on
 * @returns their ids
 */
export async function markInterruptedOf(db: Knex, benchId: number | null, live: readonly number[]): Promise<number[]> {
  const rows = (await db('recordings')
    .where({ state: 'recording' })
    .where((q) => (benchId === null ? q.whereNull('bench_id') : q.where({ bench_id: benchId })))
    .whereNotIn('id', live as number[])
    .update({ state: 'interrupted', ended_at: db.fn.now(), problem: db.raw('coalesce(problem, ?)', [brokeOff]) })
    .returning('id')) as { id: number }[];
  return rows.map((r) => r.id);
}
