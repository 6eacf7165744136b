import {
  dueMoment,
  gradeTypes,
  isUntried,
  isWorking,
  type Assessment,
  type CircuitId,
  type DeviceClass,
  type Expect,
  type JobStage,
  type OutcomeGrade,
  type WorkingHours,
} from '@umbral/core';
import type { InferType } from 'yup';
import { endWaits } from './waits.ts';
import { json, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { type jobInput, type outcomeInput } from '../../record/input.ts';
import { loadPolicy } from '../shop/policy.ts';
import { chosenProfile, profileOfModel } from '../shop/profiles.ts';
import { addAudit } from '../../record/audit.ts';
import { expectOf } from '../jobs/known.ts';
import { confirmCase, teachLibrary, withdrawCase } from '../library/teach.ts';
import { hasAnything, latestAssessment, loadContent, markOpening, verdictDue, updateJob } from '../jobs/jobs.ts';

/** A new job; assessed at once, so that even the intake has its priors. */
export async function createJob(input: InferType<typeof jobInput>): Promise<number> {
  return transaction(async (q) => {
    const known = await profileOfModel(q, input.model);
    const { hours } = await loadPolicy(q);
    const [{ id }] = await q('jobs')
      .insert({
        ...jobColumns(input, {}, hours),
        profile: known?.profile.id ?? null,
        profile_version: known?.version ?? 0,
      })
      .returning('id');
    await addAudit(q, id, 'job created', { label: input.label });
    return id as number;
  });
}

function jobColumns(input: InferType<typeof jobInput>, before: Expect, hours: WorkingHours) {
  return {
    expect: json(input.known ? expectOf(input.known, before) : before),
    label: input.label,
    device_class: input.deviceClass as DeviceClass,
    model: input.model,
    serial: input.serial,
    complaint: input.complaint,
    complaint_kind: input.complaintKind,
    technician: input.technician,
    // What is due on a day is due until the shop closes on it.
    due_at: input.dueOn && dueMoment(hours, input.dueOn),
    intake: json(input.intake),
  };
}

/** Changes device, complaint and intake. */
export async function editJob(jobId: number, version: number, input: InferType<typeof jobInput>): Promise<void> {
  await transaction(async (q) => {
    const before = await q('jobs')
      .where({ id: jobId })
      .first<{ model: string; expect: Expect } | undefined>('model', 'expect');
    // Another model is another profile; the same one keeps what it came with.
    const known = before?.model === input.model ? null : await profileOfModel(q, input.model);
    const profile =
      before?.model === input.model ? {} : { profile: known?.profile.id ?? null, profile_version: known?.version ?? 0 };
    const { hours } = await loadPolicy(q);
    await updateJob(q, jobId, version, { ...jobColumns(input, before?.expect ?? {}, hours), ...profile });
    await addAudit(q, jobId, 'intake changed');
    await assessIfThereIsAnything(q, jobId, 'intake changed');
    await teachLibrary(q, jobId);
  });
}

/** Lets a job use the latest version of a profile, or the generic one of its class. */
export async function chooseProfile(jobId: number, version: number, profileId: string | null): Promise<void> {
  await transaction(async (q) => {
    const chosen = await chosenProfile(q, profileId);
    await updateJob(q, jobId, version, chosen);
    const words = chosen.profile ? `profile ${chosen.profile}, version ${chosen.profile_version}` : 'no profile';
    await addAudit(q, jobId, words);
    await assessIfThereIsAnything(q, jobId, words);
  });
}

async function assessIfThereIsAnything(q: Queries, jobId: number, reason: string): Promise<void> {
  if (hasAnything(await loadContent(q, jobId))) await verdictDue(q, jobId, reason);
}

export async function setStage(jobId: number, version: number, stage: JobStage): Promise<void> {
  await transaction(async (q) => {
    await updateJob(q, jobId, version, { stage });
    await addAudit(q, jobId, `stage: ${stage}`);
  });
}

/**
 * Marks that the device is now opened; the call as it stands is the one that counts.
 *
 * @throws {ExpectedError} where there is no call yet that could be frozen
 */
export async function openDevice(jobId: number): Promise<void> {
  await transaction(async (q) => {
    await loadContent(q, jobId);
    const inForce = await latestAssessment(q, jobId);
    if (!inForce) throw new ExpectedError('input', 'There is no verdict yet. Add a run or a check first.');
    await markOpening(q, jobId, inForce, 'opened');
    await addAudit(q, jobId, 'device opened', { assessment: inForce.id });
  });
}

/**
 * What an assessment still asks to be shown, a line a proof: steps that nobody did, that failed, or that were left out
 * with a reason.
 */
export function openProofsOf(result: Pick<Assessment, 'proof'> | null): string[] {
  return (result?.proof?.protocols ?? []).flatMap((p) => {
    const open = p.steps.filter((s) => s.result !== 'pass');
    if (open.length === 0) return [];
    if (open.every((s) => s.result === null) && open.length === p.steps.length) return [`${p.name}: not done`];
    return [`${p.name}: ${open.map((s) => `${s.says}${sayOpen(s.result, s.because)}`).join('; ')}`];
  });
}

const sayOpen = (result: string | null, because: string): string =>
  result === null ? '' : ` (${result === 'fail' ? 'failed' : 'not done'}${because ? `: ${because}` : ''})`;

/** Moves a job to the trash or back. */
export async function setTrashed(jobId: number, trashed: boolean): Promise<void> {
  await transaction(async (q) => {
    const changed = await q('jobs')
      .where({ id: jobId })
      .update({ deleted_at: trashed ? q.fn.now() : null });
    if (changed === 0) throw missing(`Job ${jobId}`);
    await addAudit(q, jobId, trashed ? 'job moved to the trash' : 'job restored from the trash');
    await teachLibrary(q, jobId);
  });
}

/**
 * Closes a job. What was not shown is kept with it: closing without a proof is possible, and stands on the record.
 *
 * @throws {ExpectedError} for a confirmed outcome without a circuit
 */
export async function closeJob(input: InferType<typeof outcomeInput>): Promise<void> {
  const found = gradeTypes[input.grade].isConfirmed;
  if (found && input.circuit === null) throw new ExpectedError('input', 'Circuit: a confirmed outcome needs a circuit');
  await transaction(async (q) => {
    await refusePractice(q, input.jobId);
    const inForce = await latestAssessment(q, input.jobId);
    if (found) await refuseUntried(q, input.jobId, input.grade as OutcomeGrade, inForce?.result ?? null);
    const open = openProofsOf(inForce?.result ?? null);
    // A circuit that was proven by measurement teaches as much where nobody paid for its repair.
    const proposed = inForce?.result.conclusion?.outcome ?? null;
    const proven = !found && proposed?.grade === null && proposed.circuit === input.circuit;
    await updateJob(q, input.jobId, input.version, {
      outcome_grade: input.grade,
      outcome_circuit: input.circuit,
      outcome_target: input.target,
      outcome_fix: input.fix,
      outcome_extra: proven ? json({ proven: true }) : null,
      outcome_open: json(open),
      recall_at: input.recallAt,
      closed_at: q.fn.now(),
      stage: 'close',
    });
    await endWaits(q, input.jobId);
    await addAudit(q, input.jobId, `closed: ${input.grade}`, { circuit: input.circuit, notShown: open.length });
    if (input.circuit !== null && (found || proven))
      await confirmCase(q, input.jobId, {
        grade: input.grade as OutcomeGrade,
        circuit: input.circuit as CircuitId,
        target: input.target,
      });
    else await teachLibrary(q, input.jobId);
  });
}

/**
 * "Repaired" is said of a device that was seen to work since, or whose short was measured to be gone: whoever reads the report
 * relies on it.
 */
async function refuseUntried(
  q: Queries,
  jobId: number,
  grade: OutcomeGrade,
  result: Pick<Assessment, 'state'> | null,
): Promise<void> {
  const { actions } = await loadContent(q, jobId);
  const state = result?.state;
  // Work that nobody entered as a change is not judged, nor what an older engine said nothing of.
  if (actions.length === 0 || !state || isWorking(state) || (state.id === 'short-gone' && grade === 'measured')) return;
  const why = isUntried(state)
    ? 'Nothing was recorded after the last change. Start the device, look at it, or measure the place again'
    : 'The device was last seen failing. Record what it does now';
  throw new ExpectedError(
    'input',
    `Outcome: ${why}, before you close it as “${gradeTypes[grade].name}”. Otherwise choose another outcome.`,
  );
}

/** A practice unit ends with what it was, not with an outcome of the shop's. */
async function refusePractice(q: Queries, jobId: number): Promise<void> {
  if (await q('jobs').where({ id: jobId, is_practice: true }).first('id'))
    throw new ExpectedError('input', 'Finish a practice unit on its own page.');
}

export async function reopenJob(jobId: number, version: number): Promise<void> {
  await transaction(async (q) => {
    await refusePractice(q, jobId);
    await updateJob(q, jobId, version, {
      outcome_grade: null,
      outcome_circuit: null,
      outcome_target: '',
      outcome_fix: '',
      outcome_extra: null,
      outcome_open: '[]',
      recall_at: null,
      closed_at: null,
      stage: 'act',
    });
    await addAudit(q, jobId, 'job reopened');
    await withdrawCase(q, jobId, null);
  });
}
