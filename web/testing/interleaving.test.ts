import fc from 'fast-check';
import knex, { type Knex } from 'knex';
import { db } from '../server/record/db';
import { giveTestDatabase } from './database.ts';

giveTestDatabase();

/** A connection of its own, whose statements are begun one at a time by the scheduler. */
class Actor {
  private readonly pool: Knex;
  private connection: { processID: number; query: (text: string) => Promise<unknown> } | null = null;
  private left: string[] = [];
  private under: Promise<void> | null = null;
  private isSettled = true;
  problem: { code?: string; message: string } | null = null;

  constructor(url: string | Knex.PgConnectionConfig) {
    this.pool = knex({ client: 'pg', connection: url, pool: { min: 0, max: 1 } });
  }

  async open(): Promise<void> {
    this.connection = (await this.pool.client.acquireConnection()) as typeof this.connection;
  }

  async close(): Promise<void> {
    await this.pool.client.releaseConnection(this.connection);
    await this.pool.destroy();
  }

  give(statements: string[]): void {
    [this.left, this.problem] = [[...statements], null];
  }

  get pid(): number {
    return this.connection!.processID;
  }

  get isDone(): boolean {
    return this.isSettled && this.left.length === 0;
  }

  get canBegin(): boolean {
    return this.isSettled && this.left.length > 0;
  }

  get isUnderWay(): boolean {
    return !this.isSettled;
  }

  /** Begins the next statement. One that fails ends what was to come. */
  begin(): void {
    this.isSettled = false;
    this.under = this.connection!.query(this.left.shift()!)
      .then(
        () => undefined,
        async (error: Error) => {
          this.problem = error;
          this.left = [];
          await this.connection!.query('ROLLBACK');
        },
      )
      .finally(() => (this.isSettled = true));
  }

  async end(): Promise<void> {
    await this.under;
  }
}

/** Waits until what is under way has ended or waits for a lock: asked of the database, not of a clock. */
async function quiet(actors: readonly Actor[]): Promise<void> {
  for (;;) {
    const running = actors.filter((a) => a.isUnderWay);
    if (running.length === 0) return;
    const { rows } = await db().raw<{ rows: { pid: number }[] }>(
      `SELECT pid FROM pg_stat_activity WHERE pid = ANY (?) AND wait_event_type = 'Lock'`,
      [running.map((a) => a.pid)],
    );
    await new Promise((resolve) => setImmediate(resolve));
    if (running.every((a) => !a.isUnderWay || rows.some((r) => r.pid === a.pid))) return;
  }
}

/** Lets one of those that can go on begin its next statement, as the choices say, until all are through. */
async function play(actors: readonly Actor[], choices: readonly number[]): Promise<void> {
  for (let n = 0; actors.some((a) => !a.isDone); n++) {
    const able = actors.filter((a) => a.canBegin);
    if (able.length > 0) able[(choices[n % choices.length] + n) % able.length].begin();
    else await Promise.race(actors.filter((a) => a.isUnderWay).map((a) => a.end()));
    await quiet(actors);
  }
}

const columns =
  'run_key, feed, quantity, file_name, engine, instrument, setup, markers, summary, shape, preview, job_id';
const values = (key: string, job: number): string =>
  `'${key}', 'battery', 'current', 'start.csv', 'x', '{}', '{}', '[]', '{}', '{}', '{}', ${job}`;
const addRun = (key: string, job: number): string => `INSERT INTO runs (${columns}) VALUES (${values(key, job)})`;
const addChunk = (key: string, seq: number): string =>
  `INSERT INTO run_chunks (run_id, seq, rows, t0, t1, samples) SELECT id, ${seq}, 1, ${seq}, ${seq + 1}, '' FROM runs WHERE run_key = '${key}'`;

/** What the actors do: two who save, one who drops, one who opens the old job again, one who makes room. */
const oldJob = 1;
const openJob = 2;
const save = (key: string, isKept: boolean): string[] => [
  'BEGIN',
  addRun(key, openJob),
  addChunk(key, 0),
  addChunk(key, 1),
  isKept ? 'COMMIT' : 'ROLLBACK',
];
const drop = ['BEGIN', `SELECT drop_samples(now() - interval '1 year')`, 'COMMIT'];
const open = [
  'BEGIN',
  `UPDATE jobs SET closed_at = NULL, outcome_grade = NULL WHERE id = ${oldJob}`,
  `SELECT samples FROM run_chunks JOIN runs ON runs.id = run_id WHERE job_id = ${oldJob}`,
  `UPDATE runs SET version = version + 1 WHERE job_id = ${oldJob}`,
  'COMMIT',
];
const makeRoom = ['BEGIN', 'SELECT open_partitions()', 'COMMIT'];

describe('saving while old samples are dropped', () => {
  // Others at each run of the tests; a thousand take two to three minutes: UMBRAL_INTERLEAVINGS=1000.
  const interleavings = Number(process.env.UMBRAL_INTERLEAVINGS ?? 250);
  let actors: Actor[] = [];

  beforeAll(async () => {
    const { connection } = db().client.config as { connection: string };
    actors = Array.from({ length: 5 }, () => new Actor(connection));
    await Promise.all(actors.map((a) => a.open()));
    // They give way sooner here: it is what most of the time goes by with.
    for (const signature of ['drop_samples(timestamptz)', 'open_partitions()'])
      await db().raw(`ALTER FUNCTION ${signature} SET lock_timeout = '40ms'`);
  });
  afterAll(() => Promise.all(actors.map((a) => a.close())));

  /** A job closed two years ago with two runs, and one that is open. */
  async function begin(): Promise<void> {
    await db().raw(`
      DELETE FROM jobs;
      INSERT INTO jobs (id, label, device_class) VALUES (${oldJob}, 'old', 'phone'), (${openJob}, 'new', 'phone');
      ${addRun('o1', oldJob)}; ${addRun('o2', oldJob)};
      ${['o1', 'o2'].flatMap((key) => [0, 1, 2, 3].map((seq) => addChunk(key, seq))).join('; ')};
      ALTER TABLE jobs DISABLE TRIGGER jobs_closed_since;
      ALTER TABLE runs DISABLE TRIGGER runs_kept_since;
      UPDATE jobs SET closed_at = now() - interval '2 years', closed_since = now() - interval '2 years', outcome_grade = 'measured'
        WHERE id = ${oldJob};
      UPDATE runs SET kept_since = now() - interval '2 years';
      ALTER TABLE runs ENABLE TRIGGER runs_kept_since;
      ALTER TABLE jobs ENABLE TRIGGER jobs_closed_since`);
  }

  test(`loses nothing in ${interleavings} interleavings, and nobody but who drops is refused anything`, async () => {
    let dropped = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.nat(4), { minLength: 8, maxLength: 24 }),
        fc.boolean(),
        fc.boolean(),
        async (choices, isSecondKept, isOpened) => {
          await begin();
          for (const [k, statements] of [
            save('a', true),
            drop,
            save('b', isSecondKept),
            isOpened ? open : makeRoom,
          ].entries())
            actors[k].give(statements);
          actors[4].give(isOpened ? drop : []);
          await play(actors, choices);
          // Whoever drops or makes room may give way; nobody else is refused anything.
          const gaveWay = actors.filter((a) => a.problem?.code === '55P03');
          expect(actors.flatMap((a) => (a.problem && !gaveWay.includes(a) ? [a.problem.message] : []))).toEqual([]);
          expect(gaveWay).not.toContain(actors[0]);
          expect(gaveWay).not.toContain(actors[2]);
          const { rows } = await db().raw<{ rows: { run_key: string; blocks: number; gone: boolean }[] }>(
            `SELECT run_key, count(c.seq)::int AS blocks, samples_dropped_at IS NOT NULL AS gone
               FROM runs LEFT JOIN run_chunks c ON c.run_id = runs.id GROUP BY 1, 3 ORDER BY 1`,
          );
          const of = new Map(rows.map((r) => [r.run_key, r]));
          expect(of.get('a')).toEqual({ run_key: 'a', blocks: 2, gone: false });
          expect(of.get('b')).toEqual(isSecondKept ? { run_key: 'b', blocks: 2, gone: false } : undefined);
          // What is said to be gone is gone, and nothing else is.
          for (const key of ['o1', 'o2']) expect(of.get(key)!.blocks).toBe(of.get(key)!.gone ? 0 : 4);
          if (of.get('o1')!.gone) dropped++;
        },
      ),
      { numRuns: interleavings, endOnFailure: true },
    );
    // It is not for want of dropping.
    expect(dropped).toBeGreaterThan(interleavings / 20);
  }, 900_000);
});
