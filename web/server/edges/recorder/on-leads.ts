import type { Device, Feed } from '@umbral/core';
import { addAudit } from '../../record/audit.ts';
import { db, transaction } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { isSimulated } from './instruments.ts';
import { loadContent } from '../../work/jobs/jobs.ts';
import { findProfile } from '../../work/shop/profiles.ts';
import { deviceOf } from '../../work/entries/record.ts';
import { boundsOf } from '../../work/entries/recordings.ts';

/** What an output may be armed to, with the reason in words. Volts, amperes. */
interface OutputBounds {
  maxV: number;
  maxA: number;
  why: string;
}

/** Volts and amperes that no bench goes beyond: the recorder's own bounds hold below them. */
const benchAlone: OutputBounds = { maxV: 1000, maxA: 1000, why: 'only a meter is connected' };

/** The bounds of a job's device on a feed. */
export async function boundsOfJob(jobId: number, feed: Feed): Promise<OutputBounds> {
  const content = await loadContent(db(), jobId);
  const { job } = content;
  const known = job.profile ? await findProfile(db(), job.profile, job.profile_version) : null;
  return boundsOf(deviceOf(content) as Device, feed, known?.profile ?? null);
}

/**
 * From now on the device of this job is on the leads of a supply.
 *
 * @throws {ExpectedError} for a unit to practise on, which hangs on no real supply: whatever is there must not be armed for it
 */
export async function putOnLeads(instrumentKey: string, jobId: number): Promise<void> {
  const isPractice = await db()('jobs').where({ id: jobId, is_practice: true }).first('id');
  if (isPractice && !(await isSimulated(instrumentKey)))
    throw new ExpectedError(
      'input',
      'A practice unit is not connected to this supply. Only a simulated supply can be armed for it.',
    );
  await db()('on_leads')
    .insert({ instrument_key: instrumentKey, job_id: jobId })
    .onConflict('instrument_key')
    .merge({ job_id: jobId, since: db().fn.now() });
}

/** The job whose device is on the leads of a supply, as far as anybody said; null where nothing is. */
export async function onLeads(instrumentKey: string): Promise<{ jobId: number; label: string } | null> {
  const row = await db()('on_leads')
    .join('jobs', 'jobs.id', 'on_leads.job_id')
    .where({ instrument_key: instrumentKey })
    .whereNull('jobs.closed_at')
    .whereNull('jobs.deleted_at')
    .first<{ id: number; label: string } | undefined>('jobs.id', 'jobs.label');
  return row ? { jobId: row.id, label: row.label } : null;
}

/** Somebody says that nothing but a meter is on the leads any more. */
export async function freeLeads(instrumentKey: string): Promise<void> {
  await transaction(async (q) => {
    const freed = (await q('on_leads').where({ instrument_key: instrumentKey }).delete().returning('job_id')) as {
      job_id: number;
    }[];
    for (const { job_id } of freed)
      await addAudit(q, job_id, 'device disconnected from the leads', { instrument: instrumentKey });
  });
}

/**
 * What a supply may be armed to when it is armed for no job: as far as the device on its leads allows, where one is there.
 */
export async function boundsAlone(instrumentKey: string): Promise<OutputBounds> {
  const there = await onLeads(instrumentKey);
  if (!there) return benchAlone;
  const feeds: Feed[] = ['battery', 'dc-in'];
  const all = await Promise.all(feeds.map((feed) => boundsOfJob(there.jobId, feed)));
  const tightest = all.reduce((a, b) => (b.maxV < a.maxV ? b : a));
  return { ...tightest, why: `${there.label} (job ${there.jobId}) is on the leads: ${tightest.why}` };
}
