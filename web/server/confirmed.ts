import type { CircuitId, ConfirmedCounts, Counts, DeviceClass } from '@umbral/core';
import type { Queries } from './db.ts';
import type { JobRow } from './rows.ts';

/**
 * What a case teaches: measured in full, cleared without a measured cause half; a circuit that was proven and not
 * repaired as much as a measured one; nothing else does.
 */
type Grade = NonNullable<JobRow['outcome_grade']>;
const weights: Partial<Record<Grade, number>> = { measured: 1, cleared: 0.5 };

const isProven = `COALESCE((outcome_extra->>'proven')::boolean, false)`;

interface Row {
  device_class: DeviceClass;
  model: string;
  outcome_circuit: CircuitId;
  outcome_grade: Grade;
  proven: boolean;
  n: number;
}

/** What the shop has confirmed before, without the job in hand: of its model, of its class, of all devices. */
export async function confirmedBefore(q: Queries, job: JobRow): Promise<ConfirmedCounts> {
  const rows: Row[] = await q('jobs')
    .whereNot({ id: job.id })
    .whereNull('deleted_at')
    .where((w) => w.whereIn('outcome_grade', Object.keys(weights)).orWhereRaw(isProven))
    .whereNotNull('outcome_circuit')
    .groupBy('device_class', 'model', 'outcome_circuit', 'outcome_grade', q.raw(isProven))
    .select(
      'device_class',
      'model',
      'outcome_circuit',
      'outcome_grade',
      q.raw(`${isProven} AS proven`),
      q.raw('count(*)::int AS n'),
    );
  const counts: ConfirmedCounts = { model: {}, class: {}, all: {} };
  const add = (into: Counts, circuit: CircuitId, n: number): void => {
    into[circuit] = (into[circuit] ?? 0) + n;
  };
  for (const row of rows) {
    const n = row.n * (row.proven ? 1 : (weights[row.outcome_grade] ?? 0));
    add(counts.all, row.outcome_circuit, n);
    if (row.device_class === job.device_class) add(counts.class, row.outcome_circuit, n);
    const sameModel = job.model.trim() !== '' && row.model.trim().toLowerCase() === job.model.trim().toLowerCase();
    if (sameModel) add(counts.model, row.outcome_circuit, n);
  }
  return counts;
}
