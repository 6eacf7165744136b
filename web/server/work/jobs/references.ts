import { transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { addAudit } from '../../record/audit.ts';
import type { JobRow, RunRow } from '../../record/rows.ts';

/** A run of a healthy unit, as far as a band is drawn from it. */
export interface ReferenceRun {
  runId: number;
  preview: RunRow['preview'];
  /** Instant of the press, or of the source coming on where nothing was pressed; seconds of that run. */
  anchorT: number | null;
  prompted: boolean;
}

interface Row extends Pick<RunRow, 'id' | 'preview' | 'shape' | 'setup'> {
  job_id: number;
  run_key: string;
}

/** What makes a reference comparable: the same feed, battery, display, assembly and things unplugged. */
function sameSetup(a: RunRow['setup'], b: RunRow['setup']): boolean {
  const key = (s: RunRow['setup']): string =>
    JSON.stringify([
      s.battery ?? 'connected',
      s.display ?? 'connected',
      s.assembly ?? 'assembled',
      s.half,
      s.unplugged,
    ]);
  return key(a) === key(b);
}

/** Reference runs of a profile that were made in the setup of a run. */
export async function referencesFor(q: Queries, profileId: string, run: RunRow): Promise<ReferenceRun[]> {
  const rows = await q('reference_runs as f')
    .join('runs as r', 'r.id', 'f.run_id')
    .where({ 'f.profile_id': profileId, 'r.feed': run.feed, 'r.quantity': run.quantity })
    .whereNull('r.deleted_at')
    .select<Row[]>('r.id', 'r.preview', 'r.shape', 'r.setup', 'r.job_id', 'r.run_key');
  return rows
    .filter((row) => sameSetup(row.setup, run.setup))
    .map((row) => {
      const of = (event: string): number | undefined => row.shape.markers.find((m) => m.event === event)?.t;
      const press = of('prompt');
      const anchorT = press ?? of('output-on') ?? of('plug') ?? null;
      return { runId: row.id, preview: row.preview, anchorT, prompted: press !== undefined };
    });
}

/** A reference run for the profile's page. */
export interface ListedReference {
  jobId: number;
  runKey: string;
  label: string;
  feed: RunRow['feed'];
  preview: RunRow['preview'];
}

export async function listReferences(q: Queries, profileId: string): Promise<ListedReference[]> {
  const rows = await q('reference_runs as f')
    .join('runs as r', 'r.id', 'f.run_id')
    .join('jobs as j', 'j.id', 'r.job_id')
    .where({ 'f.profile_id': profileId })
    .whereNull('r.deleted_at')
    .whereNull('j.deleted_at')
    .orderBy('f.id')
    .select<{ job_id: number; run_key: string; label: string; feed: RunRow['feed']; preview: RunRow['preview'] }[]>(
      'r.job_id',
      'r.run_key',
      'j.label',
      'r.feed',
      'r.preview',
    );
  return rows.map((r) => ({ jobId: r.job_id, runKey: r.run_key, label: r.label, feed: r.feed, preview: r.preview }));
}

/**
 * Keeps a run as what a healthy unit of its model draws, or takes it back.
 *
 * @throws {ExpectedError} where the device has no profile that the run could stand for
 */
export async function setReference(jobId: number, runId: number, isReference: boolean): Promise<void> {
  await transaction(async (q) => {
    const job = await q<JobRow>('jobs').where({ id: jobId, is_practice: false }).whereNull('deleted_at').first();
    const run = await q<RunRow>('runs').where({ id: runId, job_id: jobId }).whereNull('deleted_at').first();
    if (!job || !run) throw missing('This run');
    if (!isReference) {
      await q('reference_runs').where({ run_id: runId }).delete();
      await addAudit(q, jobId, `run ${run.run_key}: no longer a reference`);
      return;
    }
    if (job.profile === null)
      throw new ExpectedError('input', 'This device has no profile yet. Choose its model first.');
    await q('reference_runs').insert({ run_id: runId, profile_id: job.profile }).onConflict('run_id').ignore();
    await addAudit(q, jobId, `run ${run.run_key}: saved as a reference`);
  });
}
