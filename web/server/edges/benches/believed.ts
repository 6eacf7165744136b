import type { BenchEvent } from '@umbral/instruments/keeper';
import { db } from '../../record/db.ts';
import type * as Tables from '../../record/tables.ts';

/** Remembers for whom a bench was told to do something: what it says they did there is believed from then on. */
export async function rememberOrder(benchId: number, body: unknown): Promise<void> {
  const { person, jobId } = (body ?? {}) as { person?: number | null; jobId?: number | null };
  if (person == null) return;
  await db()('bench_orders')
    .insert({ bench_id: benchId, person_id: person, job_id: jobId ?? 0 })
    .onConflict(['bench_id', 'person_id', 'job_id'])
    .ignore();
}

/** Whether a bench was told to do something by this person, or for this job; nobody and nothing need no order. */
export async function wasOrdered(
  benchId: number,
  person: number | null,
  jobId: number | null,
  by?: Date,
): Promise<boolean> {
  if (person === null && jobId === null) return true;
  const found = await db()('bench_orders')
    .where({ bench_id: benchId, ...(person === null ? {} : { person_id: person }), job_id: jobId ?? 0 })
    .modify((q) => by && q.where('first_at', '<=', new Date(by.getTime() + clockSlackMs)))
    .first('bench_id');
  return found !== undefined;
}

/** Clocks differ; a bench stamps with the server's time as it knows it. */
const clockSlackMs = 5000;

/**
 * What a bench says was done there, as it is believed: of its own instruments, of people and jobs that it was told to work
 * for before, and not in the future. The rest is kept as what the bench claims, in nobody's name.
 */
export async function believed(bench: Pick<Tables.BenchRow, 'id' | 'name'>, event: BenchEvent): Promise<BenchEvent> {
  const now = new Date();
  const stated = new Date(event.at);
  const at = Number.isFinite(stated.getTime()) && stated.getTime() <= now.getTime() + clockSlackMs ? stated : now;
  const names = (await db()('instruments').where({ bench_id: bench.id }).pluck('spec')) as { name: string }[];
  const isOwn = names.some(({ name: called }) => event.what.startsWith(`${called}: `));
  const isOrdered = await wasOrdered(bench.id, event.person ?? null, event.jobId ?? null, at);
  const detail = { ...event.detail, bench: bench.name, told: now.toISOString() };
  const of = isOrdered
    ? { person: event.person, jobId: event.jobId, detail }
    : {
        person: null,
        jobId: null,
        detail: { ...detail, claims: { person: event.person, job: event.jobId, at: event.at } },
      };
  const what = isOwn ? event.what : `bench ${bench.name} says: ${event.what}`;
  return { key: `bench ${bench.id} ${event.key}`, what, at: (isOrdered ? at : now).toISOString(), ...of };
}
