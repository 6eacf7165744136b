import { likelyParts, partNeed, type CircuitId, type PartUse, type SuspectedCircuit } from '@umbral/core';
import { db, type Queries } from '../../record/db.ts';
import { missing } from '../../record/errors.ts';
import { latestAssessment } from '../jobs/jobs.ts';
import type { DonorPartRow, JobRow } from '../../record/tables.ts';
import { loadParts, type PartView } from './parts.ts';

/** What a job is likely to need, with what is on the shelf and on donor boards. */
export interface JobParts {
  jobId: number;
  label: string;
  isClosed: boolean;
  likely: { part: PartView; p: number; free: number; reservedHere: number; takenHere: number }[];
  /** Every other part, to be found by a search. */
  others: PartView[];
  donors: {
    id: number;
    donorId: number;
    donor: string;
    shelf: string;
    what: string;
    number: string;
    suffix: string;
    circuit: CircuitId;
    p: number;
  }[];
}

export async function loadJobParts(jobId: number): Promise<JobParts> {
  const q = db();
  const job = await q<JobRow>('jobs').where({ id: jobId, is_practice: false }).whereNull('deleted_at').first();
  if (!job) throw missing(`Job ${jobId}`);
  const latest = await latestAssessment(q, jobId);
  const circuits = new Map<CircuitId, SuspectedCircuit>((latest?.result.circuits ?? []).map((c) => [c.id, c]));
  const parts = await loadParts(q);
  const device = { deviceClass: job.device_class, model: job.model };
  const likely = likelyParts(circuits, parts, await partUses(q), device);
  const here = await q('part_reservations').where({ job_id: jobId });
  const taken = (await q('part_moves')
    .where({ job_id: jobId })
    .whereIn('why', ['taken', 'returned'])
    .groupBy('part_id')
    .select('part_id', q.raw('-sum(delta)::int AS n'))) as {
    part_id: number;
    n: number;
  }[];
  const shown = likely.flatMap((l) => {
    const part = parts.find((p) => p.id === l.partId);
    return part
      ? [
          {
            part,
            p: l.p,
            free: l.free,
            reservedHere: here.find((r) => r.part_id === part.id)?.count ?? 0,
            takenHere: taken.find((t) => t.part_id === part.id)?.n ?? 0,
          },
        ]
      : [];
  });
  return {
    jobId,
    label: job.label,
    isClosed: job.closed_at !== null,
    likely: shown,
    others: parts.filter((p) => !shown.some((s) => s.part.id === p.id)),
    donors: await onDonors(q, job, circuits),
  };
}

/** What is still on donor boards of the same kind of device, the likeliest needed first. */
async function onDonors(
  q: Queries,
  job: JobRow,
  circuits: ReadonlyMap<CircuitId, SuspectedCircuit>,
): Promise<JobParts['donors']> {
  const rows = (await q('donor_parts')
    .join('donors', 'donors.id', 'donor_parts.donor_id')
    .whereNull('donor_parts.taken_at')
    .where('donors.device_class', job.device_class)
    .select('donor_parts.*', { donor: 'donors.label', shelf: 'donors.shelf' })) as (DonorPartRow & {
    donor: string;
    shelf: string;
  })[];
  return rows
    .map(({ id, donor_id, donor, shelf, what, number, suffix, circuit }) => ({
      id,
      donorId: donor_id,
      donor,
      shelf,
      what,
      number,
      suffix,
      circuit,
      p: partNeed(what, circuit, circuits),
    }))
    .sort((a, b) => b.p - a.p || a.id - b.id);
}

/** How often each part was taken, by the circuit that its job turned out to be. */
async function partUses(q: Queries): Promise<PartUse[]> {
  const rows = await q('call_sums')
    .where({ by: 'all', key: '' })
    .whereRaw("what LIKE 'took %'")
    .where('n', '>', 0)
    .select('what', 'sum');
  return rows.map(({ what, sum }) => {
    const [, partId, circuit] = what.split(' ');
    return { partId: Number(partId), circuit: circuit as CircuitId, times: sum };
  });
}
