import fc from 'fast-check';
import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import {
  benchOf,
  benchOfInstrument,
  endLeftOf,
  greetBench,
  instrumentsOf,
  keepOf,
  knownBenches,
  type BenchRow,
} from './benches.ts';
import { rememberOrder } from './believed.ts';
import { eventPieces } from './live.ts';

giveTestDatabase();

async function token(): Promise<number> {
  const [{ id: person }] = (await db()('people')
    .insert({ name: `lead ${Math.random()}`, role: 'lead' })
    .returning('id')) as { id: number }[];
  const [{ id }] = (await db()('tokens')
    .insert({ name: 'bench', hash: String(Math.random()), scopes: ['bench'], person_id: person })
    .returning('id')) as { id: number }[];
  return id;
}

async function bench(name = 'Van'): Promise<{ row: BenchRow; tokenId: number; jobId: number; person: number }> {
  const tokenId = await token();
  await greetBench(tokenId, { name, lease: `lease-of-${tokenId}`, now: new Date() });
  const row = await benchOf(tokenId, `lease-of-${tokenId}`);
  const spec = { key: `meter-${tokenId}`, name: 'm', kind: 'meter' };
  await db()('instruments').insert({ key: spec.key, spec: JSON.stringify(spec), bench_id: row.id });
  const [{ id: jobId }] = (await db()('jobs').insert({ label: 'x', device_class: 'phone' }).returning('id')) as {
    id: number;
  }[];
  const { person_id: person } = (await db()('tokens').where({ id: tokenId }).first('person_id')) as {
    person_id: number;
  };
  await rememberOrder(row.id, { jobId, person });
  return { row, tokenId, jobId, person };
}

const begin = (tokenId: number, jobId: number, key = `begin-${tokenId}`) => ({
  lease: 'lease-of-somebody',
  does: 'begin',
  instrument: `meter-${tokenId}`,
  of: { jobId, feed: 'usb-c', setup: {}, instrument: {}, after: null },
  startedAt: '2026-03-02T10:00:00Z',
  key,
});
const block = { rows: 2, t0: 0, t1: 1, samples: Buffer.from('abc').toString('base64') };

/** Does something while the database is not available. */
async function without<T>(work: () => Promise<T>): Promise<T> {
  const real = globalThis.umbralDb;
  const refuse = () => Promise.reject(Object.assign(new Error('connect ECONNREFUSED'), { code: 'ECONNREFUSED' }));
  const query = { where: () => query, first: refuse, pluck: refuse };
  globalThis.umbralDb = Object.assign(() => query, { raw: () => '' }) as unknown as typeof real;
  try {
    return await work();
  } finally {
    globalThis.umbralDb = real;
  }
}

describe('a bench', () => {
  test('is spoken for by one process, until that one is not heard of any more', async () => {
    const tokenId = await token();
    const slow = new Date(Date.now() - 90_000);
    await greetBench(tokenId, { name: 'Van', lease: 'lease-one', now: slow });
    await greetBench(tokenId, { name: 'Van bench', lease: 'lease-one', now: slow });
    await expect(greetBench(tokenId, { name: 'Thief', lease: 'lease-two', now: slow })).rejects.toThrow(
      'from another process.',
    );
    expect(await benchOf(tokenId, 'lease-one')).toMatchObject({ name: 'Van bench' });
    await expect(benchOf(tokenId, 'lease-two')).rejects.toThrow('Another process now controls this bench');
    const row = await db()('benches').where({ token_id: tokenId }).first<{ clock_off_s: number }>();
    expect(row?.clock_off_s).toBeCloseTo(-90, 0);
    await db()('benches')
      .where({ token_id: tokenId })
      .update({ seen_at: db().raw("now() - interval '10 seconds'") });
    await greetBench(tokenId, { name: 'Van', lease: 'lease-two', now: new Date() });
    // The clock of the database is set back by an hour: nobody is kept out for that long.
    await db()('benches')
      .where({ token_id: tokenId })
      .update({ seen_at: db().raw("now() + interval '1 hour'") });
    await greetBench(tokenId, { name: 'Van', lease: 'lease-three', now: new Date() });
  });

  test('is given its own instruments and no others', async () => {
    const [a, b] = [await bench('A'), await bench('B')];
    expect((await instrumentsOf(a.row)).instruments.map((i) => i.key)).toEqual([`meter-${a.tokenId}`]);
    expect((await instrumentsOf(b.row)).instruments.map((i) => i.key)).toEqual([`meter-${b.tokenId}`]);
  });

  test('keeps what it recorded, though it is told twice', async () => {
    const { row, tokenId, jobId } = await bench();
    const id = (await keepOf(row, begin(tokenId, jobId))) as number;
    expect(await keepOf(row, begin(tokenId, jobId))).toBe(id);
    await expect(keepOf(row, begin(tokenId, jobId, 'another'))).rejects.toThrow('Someone else');
    for (let n = 0; n < 2; n++) await keepOf(row, { lease: 'lease-of-me', does: 'block', id, seq: 0, block });
    expect(await db()('recording_chunks').where({ recording_id: id })).toHaveLength(1);
    await keepOf(row, { lease: 'lease-of-me', does: 'notes', id, markers: [{ t: 1, event: 'prompt' }], gaps: [] });
    const event = { key: `e-${id}`, what: 'armed', detail: {}, at: '2026-03-02T10:00:00Z', jobId };
    for (let n = 0; n < 2; n++) await keepOf(row, { lease: 'lease-of-me', does: 'event', event });
    expect(await db()('audit').where({ event_key: `bench ${row.id} e-${id}` })).toHaveLength(1);
    expect(await endLeftOf(row, { live: [id] })).toEqual([]);
    expect(await endLeftOf(row, { live: [] })).toEqual([id]);
    // Complete after all: what it had on disk came later.
    await keepOf(row, {
      lease: 'lease-of-me',
      does: 'end',
      id,
      state: 'finished',
      at: '2026-03-02T10:01:00Z',
      problem: null,
    });
    expect(await db()('recordings').where({ id }).first('state')).toMatchObject({ state: 'finished' });
  });

  test('is believed of those whom it was told to work for, of its own instruments, and not of the future', async () => {
    const { row, jobId, person } = await bench();
    const [{ id: other }] = (await db()('people')
      .insert({ name: `other ${Math.random()}`, role: 'lead' })
      .returning('id')) as { id: number }[];
    const say = async (event: object) => {
      const key = `e-${Math.random()}`;
      const at = new Date().toISOString();
      await keepOf(row, {
        lease: 'lease-of-me',
        does: 'event',
        event: { key, what: 'm: armed', detail: {}, at, ...event },
      });
      return db()('audit')
        .where({ event_key: `bench ${row.id} ${key}` })
        .first<Record<string, unknown>>();
    };
    expect(await say({ person, jobId })).toMatchObject({ person_id: person, job_id: jobId, what: 'm: armed' });
    // In somebody else's name, for another job, long before it was told anything, and in the future.
    const [{ id: job }] = (await db()('jobs').insert({ label: 'y', device_class: 'phone' }).returning('id')) as {
      id: number;
    }[];
    for (const claim of [
      { person: other, jobId },
      { person, jobId: job },
      { person, jobId, at: '2020-03-02T10:00:00Z' },
    ])
      expect(await say(claim)).toMatchObject({
        person_id: null,
        job_id: null,
        detail: { bench: 'Van', claims: { person: claim.person, job: claim.jobId } },
      });
    const late = await say({ person, jobId, at: '2999-03-02T10:00:00Z' });
    expect(Number(late?.created_at)).toBeLessThan(Date.now() + 60_000);
    expect((await say({ what: 'job deleted for good' }))?.what).toBe('bench Van says: job deleted for good');
    expect((await say({ at: 'yesterday' }))?.what).toBe('m: armed');
  });

  test('is spoken for by its own token alone, however well another knows its lease', async () => {
    const [a, b] = [await bench('A'), await bench('B')];
    expect(await benchOf(a.tokenId, `lease-of-${a.tokenId}`)).toMatchObject({ name: 'A' });
    await expect(benchOf(b.tokenId, `lease-of-${a.tokenId}`)).rejects.toThrow('Another process');
  });

  test('writes nothing into what another one recorded, and nothing that is no block', async () => {
    const [a, b] = [await bench('A'), await bench('B')];
    const id = (await keepOf(a.row, begin(a.tokenId, a.jobId))) as number;
    const of = { lease: 'lease-of-me', does: 'block', id, seq: 0, block };
    await expect(keepOf(b.row, of)).rejects.toThrow(`Recording ${id} of this bench no longer exists`);
    await expect(keepOf(b.row, { ...begin(a.tokenId, b.jobId), key: 'k' })).rejects.toThrow(
      'of this bench no longer exists',
    );
    for (const bad of [{}, null, { does: 'erase' }, { ...of, seq: -1 }, { ...of, block: null }, { ...of, id: 'x' }])
      await expect(keepOf(a.row, bad)).rejects.toThrow();
    expect(await db()('recording_chunks').where({ recording_id: id })).toHaveLength(0);
  });
});

describe('without a database', () => {
  test('instruments are where they were last, so that switching off goes on', async () => {
    const { row, tokenId } = await bench();
    expect(await benchOfInstrument(`meter-${tokenId}`)).toBe(row.id);
    expect(await without(() => benchOfInstrument(`meter-${tokenId}`))).toBe(row.id);
    expect(await without(() => benchOfInstrument('never heard of'))).toBeNull();
    expect(await without(() => knownBenches())).toEqual(expect.any(Array));
  });
});

describe('samples on their way to every process', () => {
  test('are cut into pieces that follow each other and fit into a notice', () => {
    fc.assert(
      fc.property(fc.nat(3000), fc.nat(10_000), (count, from) => {
        const t = Array.from({ length: count }, (_, k) => 12_345 + k / 1000);
        const cut = eventPieces({
          instrument: 'meter-of-the-van',
          recording: 12_345,
          from,
          t,
          i: t.map((x) => x / 7),
          v: t.map((x) => x / 3),
        });
        expect(cut.flatMap((c) => c.t)).toHaveLength(count);
        let at = from;
        for (const piece of cut) {
          expect(piece.from).toBe(at);
          at += piece.t.length;
          expect(Buffer.byteLength(JSON.stringify(piece))).toBeLessThan(7400);
        }
      }),
    );
    expect(
      eventPieces({ instrument: 'm', recording: 1, from: 0, t: [0.00004, 1], i: [null, NaN], v: [3.85049, null] }),
    ).toEqual([{ instrument: 'm', recording: 1, from: 0, t: [0, 1], i: [null, null], v: [3.85, null] }]);
  });
});
