import { db, transaction } from '../../record/db.ts';
import { missing } from '../../record/errors.ts';
import { loadPolicy } from '../shop/policy.ts';

/** PostgreSQL's word for a lock that was not had in time. */
const lockNotAvailable = '55P03';

interface TrashedJob {
  id: number;
  label: string;
  trashedAt: string;
}

/** Jobs in the trash, the newest first. */
export async function loadTrash(): Promise<TrashedJob[]> {
  const rows = (await db()('jobs')
    .where({ is_practice: false })
    .whereNotNull('deleted_at')
    .orderBy('deleted_at', 'desc')
    .limit(200)
    .select('id', 'label', 'deleted_at')) as { id: number; label: string; deleted_at: Date }[];
  return rows.map(({ id, label, deleted_at }) => ({ id, label, trashedAt: deleted_at.toISOString() }));
}

/**
 * Deletes a job for good, with its runs, pictures and verdicts; that it was done stays in the audit trail.
 *
 * @throws {ExpectedError} for a job that is not in the trash
 */
export async function eraseJob(id: number, why: string): Promise<void> {
  await transaction(async (q) => {
    await q.raw('SELECT erase_job(?, ?)', [id, why]).catch((error: { code?: string }) => {
      throw error.code === 'P0002' ? missing(`Job ${id} in the trash`) : error;
    });
  });
}

/**
 * Makes room for what comes next, and drops what is older than the policy keeps: samples of runs of jobs that were closed
 * long ago, and whole years of the record of who did what.
 *
 * @returns how many runs lost their samples, and how many entries of the record are gone
 */
export async function applyRetention(): Promise<{ runs: number; entries: number }> {
  const q = db();
  const { sampleMonths, auditYears } = await loadPolicy(q);
  await givingWay(() => q.raw('SELECT open_partitions()'));
  const dropped = async (what: 'drop_samples' | 'drop_audit', age: number | null, unit: 'months' | 'years') => {
    if (age === null) return 0;
    const { rows } = await givingWay(() =>
      q.raw<{ rows: { n: string }[] }>(`SELECT ${what}(now() - make_interval(${unit} => ?)) AS n`, [age]),
    );
    return Number(rows[0].n);
  };
  let runs = 0;
  let more: number;
  // One partition a call, so that nobody who saves waits for more than one.
  do runs += more = await dropped('drop_samples', sampleMonths, 'months');
  while (more > 0);
  return { runs, entries: await dropped('drop_audit', auditYears, 'years') };
}

const tries = 20;
const betweenMs = 500;

/** Does again what the database gave up because somebody held what it needs. */
async function givingWay<T>(work: () => PromiseLike<T>, left = tries): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if ((error as { code?: string }).code !== lockNotAvailable || left === 0) throw error;
    await new Promise((resolve) => setTimeout(resolve, betweenMs));
    return givingWay(work, left - 1);
  }
}

/**
 * Empties the trash of what lies in it for longer than the policy keeps it.
 *
 * @returns the jobs that are gone now
 */
export async function emptyTrash(): Promise<number[]> {
  const { trashDays } = await loadPolicy(db());
  if (trashDays === null) return [];
  const old = (await db()('jobs')
    .where('deleted_at', '<', db().raw('now() - make_interval(days => ?)', [trashDays]))
    .orderBy('id')
    .pluck('id')) as number[];
  for (const id of old) await eraseJob(id, `in the trash for ${trashDays} days`);
  return old;
}
