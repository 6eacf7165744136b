import {
  historyOf,
  judgeRise,
  judgeRun,
  proofState,
  protocols,
  sayMinutes,
  seenRun,
  standingLevel,
  stateAfter,
  type History,
  type Shape,
  type Step,
} from '@umbral/core';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { startWait, endWaits } from './waits.ts';
import { plainText, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { id, quantityOrNull } from '../../record/input.ts';
import { enterRows } from './corrections.ts';
import { loadContent, newestAction, verdictDue } from '../jobs/jobs.ts';
import { loadPolicy } from '../shop/policy.ts';
import { findProfile } from '../shop/profiles.ts';
import { referencesFor } from '../jobs/references.ts';
import { actionOf, caseOf, runOf, type JobContent, type PracticeUnitRow, type RunRow } from '../../record/rows.ts';

const word = (label: string, most: number) =>
  yup
    .string()
    .transform((x: unknown) => (typeof x === 'string' ? plainText(x).trim() : x))
    .max(most, `${label}: expected at most ${most} characters`)
    .default('');

const stepInput = {
  jobId: id,
  protocol: word('Proof', 100).required('Proof: choose one'),
  step: word('Step', 100).required('Step: choose one'),
};

export const proofInput = yup.object({
  ...stepInput,
  result: yup.string().oneOf(['pass', 'fail', 'not-done'], 'Result: pass, fail or not done').nullable().default(null),
  reason: word('Reason', 500),
  /** The run that shows it; what it shows decides. */
  run: yup.string().max(200).nullable().default(null),
  /** Battery voltage at two times while it charges. */
  fromV: word('First voltage', 40),
  toV: word('Second voltage', 40),
  minutes: yup
    .number()
    .typeError('Minutes: expected a number')
    .min(0, 'Minutes: cannot be negative')
    .max(10_000, 'Minutes: expected at most 10,000')
    .nullable()
    .default(null),
});
type ProofInput = yup.InferType<typeof proofInput>;

export const timerInput = yup.object({ ...stepInput });

export const protocolInput = yup.object({ jobId: id, protocol: stepInput.protocol });

/** The history of a job as the proofs take it. */
async function historyFor(q: Queries, content: JobContent): Promise<History> {
  const { job, runs } = content;
  const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
  const shapes = new Map<string, Shape>(runs.map((r) => [r.run_key, r.shape]));
  const profiles = known ? new Map([[known.profile.id, known.profile]]) : undefined;
  return historyOf({ ...caseOf(content), outcome: null }, shapes, { profiles }).history;
}

async function stepFor(
  q: Queries,
  content: JobContent,
  protocol: string,
  step: string,
): Promise<{ history: History; step: Step }> {
  if (content.actions.length === 0)
    throw new ExpectedError('input', 'There is no repair to verify yet. Enter the repair first.');
  const history = await historyFor(q, content);
  const { functions } = await loadPolicy(q);
  const found = proofState(history, functions)
    .protocols.find((p) => p.id === protocol)
    ?.steps.find((s) => s.id === step);
  if (!found) throw new ExpectedError('missing', `This job has no step "${step}" of the proof "${protocol}".`);
  return { history, step: found };
}

/** What a healthy unit of the model held in the setup of a run, amperes; null where none was recorded. */
async function referenceLevel(q: Queries, content: JobContent, row: RunRow): Promise<number | null> {
  if (!content.job.profile) return null;
  const [reference] = await referencesFor(q, content.job.profile, row);
  if (!reference) return null;
  const healthy = await q<RunRow>('runs').where({ id: reference.runId }).first();
  return healthy ? standingLevel(seenRun(caseOf(content), runOf(healthy), healthy.shape)).amps : null;
}

/**
 * A practice unit answers for itself, of whatever no run shows: it does what it should once nothing is wrong with it any more.
 * Null for a real device.
 */
async function answerOfUnit(q: Queries, { job, record }: JobContent, protocol: string): Promise<ProofResult | null> {
  if (!job.is_practice) return null;
  const unit = await q<PracticeUnitRow>('practice_units').where({ job_id: job.id }).first();
  if (!unit) return null;
  const { faults } = stateAfter(unit.device, unit.faults, record.actions.filter((a) => !a.planned).map(actionOf));
  // Workmanship on a simulated unit has no flaws.
  return faults.length === 0 || protocols.find((p) => p.id === protocol)?.inHouse
    ? { result: 'pass', reason: 'tried on the simulated unit' }
    : { result: 'fail', reason: 'tried on the simulated unit: it does not do it' };
}

interface ProofResult {
  result: 'pass' | 'fail' | 'not-done';
  reason: string;
}

/** What an entry says of its step: a run and two voltages speak for themselves, the rest is taken as it was said. */
async function saidBy(
  q: Queries,
  content: JobContent,
  history: History,
  step: Step,
  input: ProofInput,
): Promise<ProofResult> {
  if (input.result === 'not-done') {
    if (input.reason === '') throw new ExpectedError('input', 'Reason: enter why it is not done.');
    return { result: 'not-done', reason: input.reason };
  }
  if (input.run !== null) {
    const row = content.runs.find((r) => r.run_key === input.run);
    const seen = history.seen.find((s) => s.run.id === input.run);
    if (!row || !seen) throw new ExpectedError('missing', `This job has no run "${input.run}".`);
    const judged = judgeRun(history, step, seen, await referenceLevel(q, content, row));
    if (!judged.fits) throw new ExpectedError('input', judged.says);
    return { result: judged.result, reason: [judged.says, input.reason].filter(Boolean).join('; ') };
  }
  if (step.by === 'rise' && (input.fromV !== '' || input.toV !== '')) {
    const [from, to] = [
      quantityOrNull(input.fromV, 'voltage', 'First voltage'),
      quantityOrNull(input.toV, 'voltage', 'Second voltage'),
    ];
    if (from === null || to === null || input.minutes === null)
      throw new ExpectedError('input', 'Type both voltages and the minutes between them.');
    const judged = judgeRise(from, to, input.minutes);
    if (!judged) throw new ExpectedError('input', 'Minutes: too close together. Measure again five minutes later.');
    return { result: judged.result, reason: [judged.says, input.reason].filter(Boolean).join('; ') };
  }
  if (input.result !== 'pass' && input.result !== 'fail')
    throw new ExpectedError('input', 'Result: pass, fail or not done');
  if (input.result === 'pass' && step.by === 'run')
    throw new ExpectedError('input', `This step needs a run. ${step.needs} Record one, then use it as the proof.`);
  if (input.result === 'pass' && step.by === 'rise')
    throw new ExpectedError('input', 'This step needs two voltages and the minutes between them.');
  if (input.result === 'pass' && step.by === 'timer') refuseEarly(content, step, input);
  return { result: input.result, reason: input.reason };
}

/** A time passes when it has passed, and not before. */
function refuseEarly({ proofs }: JobContent, step: Step, input: ProofInput): void {
  const timer = proofs.findLast((p) => p.protocol === input.protocol && p.step === input.step && p.due_at !== null);
  const left = timer?.due_at ? timer.due_at.getTime() - Date.now() : null;
  if (left !== null && left <= 0) return;
  const says = sayMinutes(step.waitMinutes ?? 0);
  throw new ExpectedError(
    'input',
    left === null
      ? `This step takes ${says}. Start its timer first, or mark it as not done.`
      : `This step takes ${says}, and ${sayMinutes(Math.ceil(left / minute))} are left. Wait, or mark it as not done.`,
  );
}

const minute = 60_000;

/**
 * Keeps what was said of one step. A step that is a check of the guide at the same time enters the check; a fail opens
 * the work again.
 *
 * @throws {ExpectedError} for a run of another setup or state, a missing reason, a step that the job does not have
 */
export async function saveProof(input: ProofInput): Promise<ProofResult> {
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const { history, step } = await stepFor(q, content, input.protocol, input.step);
    const unit =
      input.result === 'not-done' || input.run !== null || step.by === 'run'
        ? null
        : await answerOfUnit(q, content, step.protocol);
    const said = unit ?? (await saidBy(q, content, history, step, input));
    await keepResults(q, content, [{ step, said, run: input.run }]);
    return said;
  });
}

/**
 * Passes every open step of a protocol that looking is enough for, in one step that can be undone.
 *
 * @returns how many passed, and how many still need a run, a time or a measurement
 * @throws {ExpectedError} where none of its steps can be passed by looking
 */
export async function passProtocol(
  input: yup.InferType<typeof protocolInput>,
): Promise<{ passed: number; left: number }> {
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const history = await historyFor(q, content);
    const { functions } = await loadPolicy(q);
    const steps = proofState(history, functions).protocols.find((p) => p.id === input.protocol)?.steps ?? [];
    const open = steps.filter((s) => s.result === null);
    const looks = open.filter((s) => s.by === 'look');
    if (looks.length === 0)
      throw new ExpectedError(
        'input',
        'No open step of this proof can be passed by looking. Each needs a run or its time.',
      );
    const unit = await answerOfUnit(q, content, input.protocol);
    const said: ProofResult = unit ?? { result: 'pass', reason: '' };
    await keepResults(
      q,
      content,
      looks.map((step) => ({ step, said, run: null })),
    );
    return { passed: said.result === 'pass' ? looks.length : 0, left: open.length - looks.length };
  });
}

/** Keeps results of steps, with the checks that they are, as one step that can be undone. */
async function keepResults(
  q: Queries,
  content: JobContent,
  results: readonly { step: Step; said: ProofResult; run: string | null }[],
): Promise<void> {
  const { job } = content;
  const after = newestAction(content);
  const rows: { table: 'checks' | 'proofs'; columns: object }[] = [];
  for (const { step, said, run } of results) {
    const check = step.check && said.result !== 'not-done' ? step.check : null;
    if (check)
      rows.push({
        table: 'checks',
        columns: {
          check_id: check.id,
          outcome: said.result === 'pass' ? check.pass : check.fail,
          note: said.reason,
          after_action: after,
        },
      });
    const { result, reason } = said;
    const columns = { result, reason, run_key: run, check_id: check?.id ?? null, after_action: after };
    const of = { protocol: step.protocol, step: step.id };
    const timed = { job_id: job.id, ...of };
    // The time that ran for it ends with its result.
    const ended = await q('proofs')
      .where(timed)
      .whereNull('result')
      .whereNull('deleted_at')
      .update({ deleted_at: q.fn.now() });
    if (ended > 0) await endWait(q, job.id, step);
    rows.push({ table: 'proofs', columns: { ...of, ...columns } });
  }
  const [first] = results;
  const what =
    results.length === 1
      ? `${first.step.says}: ${first.said.result === 'not-done' ? 'not done' : first.said.result}`
      : `${results.length} steps passed`;
  await enterRows(q, job.id, what, rows);
}

const waitWords = (step: Pick<Step, 'says'>): string => step.says.slice(0, 200);

const waitSource = ({ protocol, id }: Step): string => `proof:${protocol}:${id}`;

async function endWait(q: Queries, jobId: number, step: Step): Promise<void> {
  const ended = await endWaits(q, jobId, { source: waitSource(step) });
  if (ended > 0)
    await q('jobs')
      .where({ id: jobId })
      .update({ version: q.raw('version + 1') });
}

/**
 * Starts the time that a step takes: the job waits until then, whatever becomes of this window or of the server.
 *
 * @throws {ExpectedError} for a step that takes no time, or one whose time runs already
 */
export async function startTimer(input: yup.InferType<typeof timerInput>): Promise<void> {
  await transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const { step } = await stepFor(q, content, input.protocol, input.step);
    if (step.waitMinutes === null) throw new ExpectedError('input', `${step.says}: this step has no timer.`);
    const due = new Date(Date.now() + 60_000 * step.waitMinutes);
    const started = await q('proofs')
      .insert({
        job_id: input.jobId,
        protocol: input.protocol,
        step: input.step,
        after_action: newestAction(content),
        started_at: q.fn.now(),
        due_at: due,
      })
      .onConflict()
      .ignore()
      .returning('id');
    if (started.length === 0) throw new ExpectedError('input', `${step.says}: its timer is already running.`);
    await q('jobs')
      .where({ id: input.jobId })
      .update({ stage: 'verify', version: q.raw('version + 1') });
    await startWait(q, {
      jobId: input.jobId,
      kind: 'soak',
      words: waitWords(step),
      until: due,
      source: waitSource(step),
    });
    await addAudit(q, input.jobId, `timer started: ${step.says}`);
  });
}

/**
 * Takes back what was said of a step, or stops its time: it is open again.
 *
 * @throws {ExpectedError} where nothing was said of the step
 */
export async function undoProof(jobId: number, protocol: string, step: string): Promise<void> {
  await transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const found = await stepFor(q, content, protocol, step);
    const of = { job_id: jobId, protocol, step };
    const rows = await q('proofs').where(of).whereNull('deleted_at').orderBy('id', 'desc').select('id', 'check_id');
    if (rows.length === 0) throw new ExpectedError('missing', 'This step has no result.');
    await q('proofs').where({ id: rows[0].id }).update({ deleted_at: q.fn.now() });
    // The check that came with it goes with it.
    if (rows[0].check_id)
      await q('checks')
        .where(
          'id',
          q('checks')
            .where({ job_id: jobId, check_id: rows[0].check_id, after_action: newestAction(content) })
            .whereNull('deleted_at')
            .max('id'),
        )
        .update({ deleted_at: q.fn.now() });
    await endWait(q, jobId, found.step);
    await addAudit(q, jobId, `undone: ${found.step.says}`);
    await verdictDue(q, jobId, `${found.step.says}: undone`);
  });
}
