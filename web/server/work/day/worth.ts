import {
  bestOption,
  breakEvenSuccess,
  declineText,
  feeOf,
  quoteText,
  successOf,
  worthCurve,
  worthOf,
  valueOfInformation,
  worthInputOf,
  type CircuitId,
  type DeviceState,
  type KnowingWorth,
  type WorthCurve,
  type WorthOption,
  type Worths,
} from '@umbral/core';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { db, transaction } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { latestAssessment, updateJob } from '../jobs/jobs.ts';
import { loadPolicy, repairCounts } from '../shop/policy.ts';
import type { JobRow } from '../../record/tables.ts';
import { startWait, endWaits, usualWaits } from '../entries/waits.ts';

const minute = 60_000;

/** What going on with a job is worth, and what the customer may be told. */
export interface JobWorth {
  jobId: number;
  version: number;
  label: string;
  fee: number;
  isOwnFee: boolean;
  promisedAt: string | null;
  agreedAt: string | null;
  dataWanted: boolean;
  dataOnly: boolean;
  isClosed: boolean;
  worths: Worths;
  best: WorthOption;
  knowing: KnowingWorth;
  curve: WorthCurve;
  /** Share of repairs that must succeed for going on to pay; null where not even all would do. */
  breakEven: number | null;
  /** Chance that the repair of the leading suspect succeeds, and from how many own cases that is. */
  success: number;
  ownCases: { begun: number; succeeded: number };
  isRepairedHere: boolean;
  /** How the device is now; null for a verdict of an older engine. */
  state: DeviceState | null;
  quote: string;
  decline: string;
}

/**
 * What going on with a job is worth.
 *
 * @returns null where nothing was assessed yet
 * @throws {ExpectedError} for a job that is not there
 */
export async function loadWorth(jobId: number): Promise<JobWorth | null> {
  const q = db();
  const job = await q<JobRow>('jobs').where({ id: jobId, is_practice: false }).whereNull('deleted_at').first();
  if (!job) throw missing(`Job ${jobId}`);
  const latest = await latestAssessment(q, jobId);
  if (!latest) return null;
  const shop = await loadPolicy(q);
  const input = worthInputOf(
    {
      deviceClass: job.device_class,
      fee: job.fee,
      dataWanted: job.intake.dataWanted,
      assessment: latest.result,
      approval: job.agreed_at ? 1 : shop.approval,
      diagnosisFee: shop.diagnosisFee,
    },
    shop,
  );
  const worths = worthOf(input);
  const curve = worthCurve(input);
  const own = (await repairCounts(q)).find((c) => c.circuit === curve.circuit);
  const fee = job.fee ?? feeOf(shop, job.device_class);
  const today = new Date();
  const { zone } = shop.hours;
  const letter = {
    shop: { name: shop.name, contact: shop.contact },
    date: `${dayWords(today, zone)} ${today.toLocaleDateString('en-GB', { year: 'numeric', timeZone: zone })}`,
    validUntil: dayWords(new Date(today.getTime() + shop.quoteDays * 86_400_000), zone),
    label: job.label,
    complaint: job.complaint,
    circuit: curve.circuit,
    p: curve.p,
    fee,
    diagnosisFee: shop.diagnosisFee,
    success: successOf(shop, curve.circuit),
    isDoneHere: !shop.notDoneHere.includes(curve.circuit as CircuitId),
    ready: job.promised_at ? dayWords(job.promised_at, zone) : null,
    dataWanted: job.intake.dataWanted,
    dataFee: shop.dataFee,
  };
  return {
    jobId,
    version: job.version,
    label: job.label,
    fee,
    isOwnFee: job.fee !== null,
    promisedAt: job.promised_at?.toISOString() ?? null,
    agreedAt: job.agreed_at?.toISOString() ?? null,
    dataWanted: job.intake.dataWanted,
    dataOnly: job.data_only,
    isClosed: job.closed_at !== null,
    worths,
    // What the verdict stops is not gone on with.
    best: latest.result.conclusion?.stop?.first ? 'stop' : bestOption(worths),
    knowing: valueOfInformation(input),
    curve,
    breakEven: breakEvenSuccess(input),
    success: letter.success,
    ownCases: { begun: own?.begun ?? 0, succeeded: own?.succeeded ?? 0 },
    state: latest.result.state ?? null,
    isRepairedHere: !shop.notDoneHere.includes(curve.circuit as CircuitId),
    quote: quoteText(letter),
    decline: declineText(letter),
  };
}

const dayWords = (moment: Date, timeZone: string): string =>
  moment.toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long', timeZone });

export const termsInput = yup.object({
  jobId: yup.number().integer().positive().required(),
  version: yup.number().integer().positive().required(),
  fee: yup
    .number()
    .typeError('Fee: expected a number')
    .min(0, 'Fee: cannot be negative')
    .max(1e6, 'Fee: expected at most a million')
    .nullable()
    .default(null),
  promisedAt: yup.date().typeError('Promised for: expected a date').nullable().default(null),
  dataOnly: yup.boolean().default(false),
});

/**
 * Keeps what was agreed with the customer. Another fee than the one that they agreed to is asked about anew.
 *
 * @throws {ExpectedError} for a promise before the device came in
 */
export async function saveTerms(input: yup.InferType<typeof termsInput>): Promise<void> {
  const { jobId, version, fee, promisedAt, dataOnly } = input;
  await transaction(async (q) => {
    const job = await q<JobRow>('jobs').where({ id: jobId, is_practice: false }).whereNull('deleted_at').first();
    if (!job) throw missing(`Job ${jobId}`);
    if (promisedAt !== null && promisedAt < job.created_at)
      throw new ExpectedError(
        'input',
        `Promised for: this is before the device came in, on ${job.created_at.toISOString().slice(0, 10)}.`,
      );
    const agreed = fee === job.fee ? job.agreed_at : null;
    await updateJob(q, jobId, version, { fee, promised_at: promisedAt, data_only: dataOnly, agreed_at: agreed });
    await addAudit(q, jobId, 'terms changed', { fee, promisedAt, dataOnly });
  });
}

/** The customer was asked: the job waits for the answer. */
export async function askCustomer(jobId: number): Promise<void> {
  await transaction(async (q) => {
    const minutes = (await usualWaits(q)).answer;
    await startWait(q, {
      jobId,
      kind: 'answer',
      words: '',
      until: new Date(Date.now() + minutes * minute),
      source: 'question',
    });
    await addAudit(q, jobId, 'the customer was asked');
  });
}

/** What the customer said: yes lets the work go on, no opens the way to closing it as declined. */
export async function customerSaid(jobId: number, says: 'yes' | 'no'): Promise<void> {
  await transaction(async (q) => {
    await endWaits(q, jobId, { source: 'question' });
    await q('jobs')
      .where({ id: jobId })
      .update({ agreed_at: says === 'yes' ? q.fn.now() : null, version: q.raw('version + 1') });
    await addAudit(q, jobId, says === 'yes' ? 'the customer agreed' : 'the customer declined');
  });
}
