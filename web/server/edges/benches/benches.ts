import { readInput } from '@umbral/core';
import { DatabaseKeeper, markInterruptedOf, type BenchEvent, type RecordingOf } from '@umbral/instruments/keeper';
import { LRUCache } from 'lru-cache';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { db, json, transaction } from '../../record/db.ts';
import { conflict, ExpectedError, missing } from '../../record/errors.ts';
import { loadPolicy } from '../../work/shop/policy.ts';
import type * as Tables from '../../record/tables.ts';
import { believed, wasOrdered } from './believed.ts';

/** A bench that was not heard of for this long is away, seconds. */
export const awayAfterS = 5;

/** A bench as what it says is taken; whose token it comes with is asked before. */
export type BenchRow = Omit<Tables.BenchRow, 'token_id' | 'created_at'>;

const lease = yup.string().min(8).max(80).required();
const name = yup.string().trim().min(1, 'name: missing').max(80, 'name: expected at most 80 characters').required();
export const helloInput = yup.object({ name, lease, now: yup.date().typeError('now: expected a time').required() });
export const leaseInput = yup.object({ lease });

/**
 * A bench says that it is there. One process at a time speaks for it: whoever comes while another was heard of a moment
 * ago is refused.
 *
 * @param tokenId by which a bench is known
 * @throws {ExpectedError} where another process speaks for this bench
 */
export async function greetBench(tokenId: number, input: yup.InferType<typeof helloInput>): Promise<{ now: string }> {
  const now = new Date();
  const clockOffS = (input.now.getTime() - now.getTime()) / 1000;
  await transaction(async (q) => {
    const key = `token-${tokenId}`;
    await q('benches').insert({ key, name: input.name, token_id: tokenId }).onConflict('key').ignore();
    const taken = await q('benches')
      .where({ key })
      .where((w) =>
        w
          .whereNull('lease')
          .orWhere({ lease: input.lease })
          .orWhere('seen_at', '<', q.raw('now() - make_interval(secs => ?)', [awayAfterS]))
          // The clock was set back meanwhile.
          .orWhere('seen_at', '>', q.raw('now() + make_interval(secs => ?)', [awayAfterS])),
      )
      .update({ lease: input.lease, name: input.name, seen_at: q.fn.now(), clock_off_s: clockOffS });
    if (taken === 0)
      throw new ExpectedError(
        'conflict',
        'This bench is already connected from another process. Stop that one first, or use a separate token.',
      );
    await addAudit(q, null, 'bench connected', { bench: input.name, clockOffS: Math.round(clockOffS) });
  });
  return { now: new Date().toISOString() };
}

/** Who speaks for a bench, remembered for less time than another one has to wait before it may. */
const speaking = new LRUCache<string, BenchRow>({ max: 200, ttl: 1000 });

/**
 * The bench that a process speaks for.
 *
 * @throws {ExpectedError} where another one does now
 */
export async function benchOf(tokenId: number, given: string): Promise<BenchRow> {
  const key = `${tokenId} ${given}`;
  const known = speaking.get(key);
  if (known) return known;
  const row = await db()<BenchRow>('benches')
    .where({ key: `token-${tokenId}` })
    .first();
  if (!row) throw missing('This bench');
  if (row.lease !== given) throw new ExpectedError('conflict', 'Another process now controls this bench.');
  speaking.set(key, row);
  return row;
}

/** Instruments of a bench, and where they may be. */
export async function instrumentsOf(bench: BenchRow) {
  const instruments = await db()('instruments').where({ bench_id: bench.id }).orderBy('id').select('key', 'spec');
  return { instruments, networks: (await loadPolicy(db())).networks };
}

const keepInput = yup.object({
  lease,
  does: yup.string().oneOf(['begin', 'block', 'notes', 'end', 'event']).required(),
});

const positive = yup.number().integer().positive();
const time = (label: string) => yup.date().typeError(`${label}: expected a time`).required();
const beginInput = yup.object({
  instrument: yup.string().max(120).required(),
  of: yup.object({ jobId: positive.required(), person: positive.nullable().default(null) }).required(),
  startedAt: time('startedAt'),
  key: yup.string().max(80).required(),
});
const recording = { id: yup.number().integer().positive().required() };
const blockInput = yup.object({
  ...recording,
  seq: yup.number().integer().min(0).required(),
  block: yup
    .object({
      rows: yup.number().integer().positive().required(),
      t0: yup.number().required(),
      t1: yup.number().required(),
      min_a: yup.number().nullable().default(null),
      max_a: yup.number().nullable().default(null),
      mean_a: yup.number().nullable().default(null),
      samples: yup.string().max(4_000_000).required(),
    })
    .required(),
});
const notesInput = yup.object({
  ...recording,
  markers: yup.array().required(),
  gaps: yup.array().required(),
  setTo: yup.array().default([]),
});
const endInput = yup.object({
  ...recording,
  state: yup.string().oneOf(['finished', 'interrupted']).required(),
  at: time('at'),
  problem: yup.string().nullable().default(null),
});
const eventInput = yup.object({
  event: yup
    .object({
      key: yup.string().max(80).required(),
      jobId: yup.number().integer().positive().nullable().default(null),
      person: yup.number().integer().positive().nullable().default(null),
      what: yup.string().max(300).required(),
      detail: yup.object().default({}),
      at: yup.string().required(),
    })
    .required(),
});

/** A bench writes its own recordings and no others. */
async function refuseOther(bench: BenchRow, recordingId: number): Promise<void> {
  const row = await db()('recordings')
    .where({ id: recordingId })
    .first<{ bench_id: number | null } | undefined>('bench_id');
  if (row?.bench_id !== bench.id) throw missing(`Recording ${recordingId} of this bench`);
}

/** Keeps what a bench recorded or did; everything may come twice. */
export async function keepOf(bench: BenchRow, body: unknown): Promise<unknown> {
  const keeper = new DatabaseKeeper(db(), bench.id);
  const { does } = readInput(keepInput, body);
  switch (does) {
    case 'begin': {
      const { instrument, of, startedAt, key } = readInput(beginInput, body);
      const isOurs = await db()('instruments').where({ key: instrument, bench_id: bench.id }).first('key');
      if (!isOurs) throw missing(`Instrument "${instrument}" of this bench`);
      if (!(await wasOrdered(bench.id, of.person, of.jobId)))
        throw new ExpectedError('missing', `This bench has no request to record for job ${of.jobId}.`);
      return keeper
        .begin(instrument, of as unknown as RecordingOf, startedAt, key)
        .catch((error: { code?: string }) => {
          throw error.code === '23505' ? conflict() : error;
        });
    }
    case 'block': {
      const { id, seq, block } = readInput(blockInput, body);
      await refuseOther(bench, id);
      return keeper.block(id, seq, { ...block, samples: Buffer.from(block.samples, 'base64') });
    }
    case 'notes': {
      const { id, ...notes } = readInput(notesInput, body);
      await refuseOther(bench, id);
      return keeper.notes(id, notes);
    }
    case 'end': {
      const { id, state, at, problem } = readInput(endInput, body);
      await refuseOther(bench, id);
      return keeper.end(id, state as 'finished' | 'interrupted', at, problem);
    }
    default: {
      const { event } = readInput(eventInput, body);
      return keeper.event(await believed(bench, event as BenchEvent));
    }
  }
}

const leftInput = yup.object({ live: yup.array().of(yup.number().integer().required()).max(100).default([]) });

/** Ends recordings that an earlier process of this bench left open. */
export function endLeftOf(bench: BenchRow, body: unknown): Promise<number[]> {
  const { live } = readInput(leftInput, body);
  return markInterruptedOf(db(), bench.id, live);
}

/** Benches with recorders of their own. */
export async function loadBenches(): Promise<{ id: number; name: string; isThere: boolean }[]> {
  const rows = (await db()('benches')
    .orderBy('name')
    .select(
      'id',
      'name',
      db().raw('coalesce(seen_at > now() - make_interval(secs => ?), false) AS there', [awayAfterS]),
    )) as {
    id: number;
    name: string;
    there: boolean;
  }[];
  return rows.map(({ id, name: called, there }) => ({ id, name: called, isThere: there }));
}

/** Where instruments are, as it was found last: switching off must not wait for a database, nor fail without one. */
const places = new LRUCache<string, { bench: number | null; at: number }>({ max: 1000 });
const placeFreshMs = 3000;
const placePatienceMs = 500;

/**
 * The bench that an instrument is at; null for the one beside the database, or an instrument that nobody described. What
 * was known last, where the database does not answer at once.
 */
export async function benchOfInstrument(key: string): Promise<number | null> {
  const known = places.get(key);
  if (known && performance.now() - known.at < placeFreshMs) return known.bench;
  const asked = db()('instruments')
    .where({ key })
    .first<{ bench_id: number | null } | undefined>('bench_id')
    .then((row) => {
      const bench = row?.bench_id ?? null;
      places.set(key, { bench, at: performance.now() });
      return bench;
    })
    .catch(() => known?.bench ?? null);
  const late = new Promise<number | null>((resolve) =>
    setTimeout(() => resolve(known?.bench ?? null), placePatienceMs),
  );
  return Promise.race([asked, late]);
}

/** Remembers how a bench is, for whoever opens a page next. */
export async function rememberState(benchId: number, state: unknown, health: unknown): Promise<void> {
  await db()('benches')
    .where({ id: benchId })
    .update({
      seen_at: db().fn.now(),
      ...(state ? { state: json(state) } : {}),
      ...(health ? { health: json(health) } : {}),
    });
}

/** Benches that were heard of not long ago, remembered for a moment: this is asked many times a second. */
let remembered: { at: number; ids: number[] } = { at: -Infinity, ids: [] };

export async function knownBenches(): Promise<number[]> {
  const now = performance.now();
  if (now - remembered.at < 2000) return remembered.ids;
  // Asked for again by one at a time; without a database those that were known last stay so.
  remembered = { at: now, ids: remembered.ids };
  const asked = db()('benches').where('seen_at', '>', db().raw("now() - interval '1 day'")).pluck('id') as Promise<
    number[]
  >;
  const late = new Promise<number[]>((resolve) => setTimeout(() => resolve(remembered.ids), placePatienceMs));
  const ids = await Promise.race([asked.catch(() => remembered.ids), late]);
  remembered = { at: now, ids };
  return ids;
}
