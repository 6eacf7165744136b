import { checkTypes, circuitNames, isCheck, type CircuitId } from '@umbral/core';
import type { InferType } from 'yup';
import { json, transaction, type Queries } from '../platform/db.ts';
import { ExpectedError, missing } from '../platform/errors.ts';
import {
  quantityOrNull,
  type checkInput,
  type injectionInput,
  type moveInput,
  type placeNameInput,
  type runBeforeInput,
} from '../platform/input.ts';
import { addAudit } from '../platform/audit.ts';
import { followedAction, loadContent, verdictDue, refuseCircle } from './jobs.ts';
import type { JobContent } from '../rows.ts';

/** A check as it is entered; the place may be left out. */
type CheckPlace = 'where' | 'circuit' | 'rail' | 'half' | 'unplugged';
type CheckEntry = Omit<InferType<typeof checkInput>, CheckPlace> &
  Partial<Pick<InferType<typeof checkInput>, CheckPlace>>;

/**
 * @returns the number of the entry, by which it can be taken out again
 * @throws {ExpectedError} for an unknown check, or an outcome that it does not have
 */
export async function addCheck(input: CheckEntry): Promise<number> {
  const type = isCheck(input.check) ? checkTypes[input.check] : null;
  if (!type) throw new ExpectedError('input', `Check: "${input.check}" is not known`);
  if (type.outcomes.length > 0 && !type.outcomes.includes(input.outcome ?? '')) {
    throw new ExpectedError(
      'input',
      `Outcome: expected one of ${type.outcomes.map((word) => word.replaceAll('-', ' ')).join(', ')}`,
    );
  }
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const columns = {
      job_id: input.jobId,
      check_id: input.check,
      outcome: input.outcome,
      note: input.note,
      where: input.where ?? '',
      circuit: input.circuit ?? null,
      rail: input.rail ?? '',
      half: input.half ?? null,
      unplugged: json(input.unplugged ?? []),
      after_action: followedAction(content, input.after),
    };
    const [{ id }] = (await q('checks').insert(columns).returning('id')) as { id: number }[];
    await addAudit(q, input.jobId, `check ${input.check}: ${input.outcome ?? 'noted'}`);
    await verdictDue(q, input.jobId, `${type.name}: ${input.outcome ?? 'noted'}`);
    return id;
  });
}

/**
 * A voltage that was put on a rail from any supply, with what flowed and what warmed.
 *
 * @throws {ExpectedError} for values below 0, or no voltage
 */
export async function addInjection(input: InferType<typeof injectionInput>): Promise<void> {
  const number = (text: string, kind: 'voltage' | 'current' | 'resistance', label: string): number | null => {
    const value = quantityOrNull(text, kind, label);
    if (value !== null && value < 0) throw new ExpectedError('input', `${label}: cannot be negative`);
    return value;
  };
  const setV = number(input.setV, 'voltage', 'Volts');
  if (setV === null || setV === 0) throw new ExpectedError('input', 'Volts: enter the injected voltage, above zero');
  await transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    await insertInjection(q, content, {
      rail: input.rail,
      circuit: input.circuit,
      set_v: setV,
      limit_a: number(input.limitA, 'current', 'Limit') || null,
      amps: number(input.amps, 'current', 'Amperes'),
      leads_ohm: number(input.leadsOhm, 'resistance', 'Leads'),
      reference_a: number(input.referenceA, 'current', 'Known-good board draws'),
      heat: input.heat,
      hot: input.hot || null,
      hot_circuit: input.hotCircuit,
      note: input.note,
      after_action: followedAction(content, input.after),
    });
  });
}

/** Stores an injection under the next free name, and lets the suspects follow. */
export async function insertInjection(q: Queries, { job }: JobContent, columns: object): Promise<void> {
  const taken = new Set((await q('injections').where({ job_id: job.id }).pluck('injection_key')) as string[]);
  let n = taken.size + 1;
  while (taken.has(`i${n}`)) n++;
  await q('injections').insert({ job_id: job.id, injection_key: `i${n}`, ...columns });
  await addAudit(q, job.id, `injection i${n}`);
  await verdictDue(q, job.id, `injection i${n}`);
}

/** Names the circuit of a place: it holds for everything that was and will be entered at it. */
export async function namePlace(input: InferType<typeof placeNameInput>): Promise<void> {
  await transaction(async (q) => {
    await loadContent(q, input.jobId);
    await q('place_names').insert({ job_id: input.jobId, where: input.where, circuit: input.circuit as CircuitId });
    await addAudit(q, input.jobId, `${input.where} named`, { circuit: input.circuit });
    await verdictDue(q, input.jobId, `${input.where}: ${circuitNames[input.circuit as CircuitId]}`);
  });
}

/** Takes an entry out of the record's use, or puts it back; nothing is deleted. */
export async function setRemoved(
  jobId: number,
  table: 'runs' | 'checks' | 'readings' | 'injections',
  entryId: number,
  removed: boolean,
): Promise<void> {
  await transaction(async (q) => {
    const changed = await q(table)
      .where({ id: entryId, job_id: jobId })
      .update({ deleted_at: removed ? q.fn.now() : null });
    if (changed === 0) throw missing('This entry');
    await addAudit(q, jobId, removed ? `${table.slice(0, -1)} deleted` : `${table.slice(0, -1)} restored`, {
      id: entryId,
    });
    await verdictDue(q, jobId, removed ? 'an entry was deleted' : 'an entry was restored');
  });
}

/**
 * Puts an entry under another change, or before any: what was seen belongs to the state of the device that it describes.
 *
 * @throws {ExpectedError} for a change that the job does not have, or one that names the run as the state before it
 */
export async function moveEntry(input: InferType<typeof moveInput>): Promise<void> {
  const { jobId, table, entryId, after } = input;
  await transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const follows = followedAction(content, after);
    const run = table === 'runs' ? content.runs.find((r) => r.id === entryId) : undefined;
    if (run) refuseCircle(content, run.run_key, follows);
    const changed = await q(table).where({ id: entryId, job_id: jobId }).update({ after_action: follows });
    if (changed === 0) throw missing('This entry');
    await addAudit(q, jobId, `${table.slice(0, -1)} moved`, { id: entryId, after: follows });
    await verdictDue(q, jobId, 'an entry was moved to another change');
  });
}

/**
 * Names the run that shows the state before a change.
 *
 * @throws {ExpectedError} for a run that was made after the change
 */
export async function setRunBefore(input: InferType<typeof runBeforeInput>): Promise<void> {
  const { jobId, action, run } = input;
  await transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const row = content.runs.find((r) => r.run_key === run);
    if (!row) throw missing(`Run ${run}`);
    const order = content.actions.map((a) => a.action_key);
    if (!order.includes(action)) throw missing('This change');
    if (row.after_action !== null && order.indexOf(row.after_action) >= order.indexOf(action))
      throw new ExpectedError('input', `Run ${run} was made after this change, so it cannot show the state before it.`);
    await q('actions').where({ job_id: jobId, action_key: action }).update({ run_before: run });
    await addAudit(q, jobId, `state before ${action}: run ${run}`);
    await verdictDue(q, jobId, 'another run shows the state before');
  });
}
