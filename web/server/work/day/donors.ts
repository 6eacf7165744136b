import { circuitIds, deviceClasses, type CircuitId, type DeviceClass } from '@umbral/core';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { text } from '../../record/input.ts';
import type { DonorPartRow, DonorRow } from '../../record/tables.ts';

export const donorInput = yup.object({
  label: text('Board', 120).required('Board: enter a name'),
  deviceClass: yup.string().oneOf(deviceClasses).required('Kind of device: choose one'),
  model: text('Model', 120),
  shelf: text('Shelf', 80),
  /** What is still on it. */
  parts: yup
    .array()
    .of(
      yup.object({
        what: text('Part', 120).required('Part: enter a name'),
        number: text('Number', 120),
        suffix: text('Suffix', 40),
        circuit: yup.string().oneOf(circuitIds).required('Circuit: choose one'),
      }),
    )
    .max(100, 'Parts: expected at most 100')
    .default([]),
});

/** A board that parts are taken from. */
export interface DonorView {
  id: number;
  label: string;
  deviceClass: DeviceClass;
  model: string;
  shelf: string;
  parts: {
    id: number;
    what: string;
    number: string;
    suffix: string;
    circuit: CircuitId;
    takenFor: number | null;
    isTaken: boolean;
  }[];
}

export async function loadDonors(q: Queries): Promise<DonorView[]> {
  const donors = (await q('donors').orderBy('id')) as DonorRow[];
  const parts = (await q('donor_parts').orderBy('id')) as DonorPartRow[];
  return donors.map((d) => ({
    id: d.id,
    label: d.label,
    deviceClass: d.device_class,
    model: d.model,
    shelf: d.shelf,
    parts: parts
      .filter((p) => p.donor_id === d.id)
      .map((p) => ({
        id: p.id,
        what: p.what,
        number: p.number,
        suffix: p.suffix,
        circuit: p.circuit,
        takenFor: p.job_id,
        isTaken: p.taken_at !== null,
      })),
  }));
}

/** Adds a board with what is still on it. */
export async function addDonor(input: yup.InferType<typeof donorInput>): Promise<number> {
  return transaction(async (q) => {
    const [made] = (await q('donors')
      .insert({
        label: input.label,
        device_class: input.deviceClass as DeviceClass,
        model: input.model,
        shelf: input.shelf,
      })
      .returning('id')) as { id: number }[];
    if (input.parts.length > 0)
      await q('donor_parts').insert(
        input.parts.map((p) => ({ ...p, circuit: p.circuit as CircuitId, donor_id: made.id })),
      );
    await addAudit(q, null, 'donor board added', { donor: made.id, parts: input.parts.length });
    return made.id;
  });
}

/**
 * Takes a part off a donor board for a job: it is there for nobody else any more.
 *
 * @throws {ExpectedError} where somebody took it before
 */
export async function removeDonorPart(donorPartId: number, jobId: number): Promise<void> {
  await transaction(async (q) => {
    const job = await q('jobs').where({ id: jobId, is_practice: false }).whereNull('deleted_at').first('id');
    if (!job) throw missing(`Job ${jobId}`);
    const [row] = (await q('donor_parts')
      .where({ id: donorPartId })
      .whereNull('taken_at')
      .update({ taken_at: q.fn.now(), job_id: jobId })
      .returning('*')) as DonorPartRow[];
    if (!row) throw new ExpectedError('conflict', 'This part was already taken off its board.');
    await addAudit(q, jobId, `taken off a donor board: ${row.what}`, { donorPart: donorPartId });
  });
}
