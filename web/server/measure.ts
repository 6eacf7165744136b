import {
  circuitIds,
  elementNamed,
  parseReading,
  railStates,
  type BoardPlan,
  type Profile,
  type ProbePhase,
  type Reading,
  type Shape,
} from '@umbral/core';
import * as yup from 'yup';
import { audit } from './audit.ts';
import * as think from './analysis/think.ts';
import { confirmedBefore } from './confirmed.ts';
import { db, json, plain, type Queries } from './db.ts';
import { ExpectedError } from './errors.ts';
import { id, orNull } from './input.ts';
import { loadContent, newestAction, reassess } from './jobs.ts';
import { loadPolicy } from './policy.ts';
import { findProfile, type KnownProfile } from './profiles.ts';
import { caseOf, type JobContent, type JobRow } from './rows.ts';

const phases = ['before', 'after', 'plugged'] as const;

/** A reading typed at the ladder. */
export const measureInput = yup.object({
  jobId: id,
  where: yup
    .string()
    .transform((x: unknown) => (typeof x === 'string' ? plain(x).trim() : x))
    .max(200)
    .required('Where: name the rail, net or part'),
  text: yup.string().max(60, 'Value: expected at most 60 characters').required('Value: type what the meter shows'),
  mode: yup.string().oneOf(['voltage', 'diode', 'resistance']).required(),
  phase: yup.string().oneOf(phases).required(),
  redProbe: yup.string().oneOf(['ground', 'point']).required(),
  /** Of a point that the profile does not have. */
  circuit: orNull(circuitIds, 'Circuit'),
  state: orNull(railStates, 'Power state'),
  leadsOhm: yup
    .number()
    .min(0, 'Leads: never below zero')
    .max(5, 'Leads: expected at most 5 ohm')
    .nullable()
    .default(null),
  /** The good board that lies beside it, rather than the patient. */
  good: yup.boolean().default(false),
  /** What was odd about it has been asked and confirmed. */
  confirmed: yup.boolean().default(false),
});
export type MeasureInput = yup.InferType<typeof measureInput>;

/** What became of a typed reading: kept, or asked about first. */
export interface Taken {
  asks: string[];
  kept: boolean;
}

export interface ReferenceRow {
  id: number;
  model_key: string;
  where: string;
  mode: Reading['mode'];
  phase: ProbePhase | null;
  red_probe: Reading['redProbe'];
  value: number | null;
  ol: boolean;
}

/** Under what a model's good readings are kept; empty where nobody said what model it is. */
export function modelKeyOf(job: Pick<JobRow, 'profile' | 'model'>): string {
  return job.profile ?? job.model.trim().toLowerCase();
}

/** Readings of good boards of this model, the latest last. */
export async function referencesOf(q: Queries, job: Pick<JobRow, 'profile' | 'model'>): Promise<ReferenceRow[]> {
  const key = modelKeyOf(job);
  if (key === '') return [];
  return q<ReferenceRow>('reference_readings').where({ model_key: key }).orderBy('id');
}

/**
 * Keeps a reading typed at the ladder, of the patient or of a good board beside it; what is odd is asked about first.
 *
 * @throws {ExpectedError} for what cannot be, by name
 */
export async function takeReading(input: MeasureInput): Promise<Taken> {
  return db().transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const { job } = content;
    const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
    const profile = known?.profile ?? null;
    const rail = profile?.rails.find((r) => r.id === input.where || r.name === input.where) ?? null;
    const before = content.readings.findLast((r) => r.where === input.where);
    const entry = parseReading(input.text, {
      mode: input.mode as Reading['mode'],
      leadsOhm: input.leadsOhm,
      nominalV: rail?.nominalV ?? null,
    });
    if (!entry.ok) throw new ExpectedError('input', entry.error);
    if (entry.asks.length > 0 && !input.confirmed) return { asks: entry.asks, kept: false };
    const { mode, value, ol, unit, swing, shownOhm } = entry.reading;
    const isVoltage = mode === 'voltage';
    const redProbe = isVoltage ? null : (input.redProbe as 'ground' | 'point');
    const phase = isVoltage ? (input.phase as ProbePhase) : null;
    if (input.good) {
      const key = modelKeyOf(job);
      if (key === '')
        throw new ExpectedError('input', 'Model: name it in the intake first, so that others find this good reading.');
      await q('reference_readings').insert({
        model_key: key,
        where: rail?.id ?? input.where,
        mode,
        phase,
        red_probe: redProbe,
        value,
        ol,
        job_id: input.jobId,
      });
      await audit(q, input.jobId, `good board at ${rail?.name ?? input.where}`);
      return { asks: [], kept: true };
    }
    const hasPort = profile ? profile.ports.length > 0 : content.runs.some((r) => r.feed === 'usb-c');
    await q('readings').insert({
      job_id: input.jobId,
      where: rail?.id ?? input.where,
      circuit: rail?.circuit ?? input.circuit ?? before?.circuit ?? null,
      state: rail?.state ?? input.state ?? before?.state ?? null,
      prompted: phase === null ? null : phase === 'after',
      mode,
      value,
      unit,
      ol,
      reference: referenceFor(await referencesOf(q, job), profile, rail?.id ?? input.where, mode, phase, redProbe),
      red_probe: redProbe,
      powered: isVoltage,
      swing: swing ? json(swing) : null,
      shown_ohm: shownOhm,
      leads_ohm: shownOhm === null ? null : input.leadsOhm,
      feed: phase === 'plugged' ? (hasPort ? 'usb-c' : 'dc-in') : null,
      after_action: newestAction(content),
    });
    await audit(q, input.jobId, `reading at ${rail?.name ?? input.where}`);
    await reassess(q, input.jobId, `reading at ${rail?.name ?? input.where}`);
    return { asks: [], kept: true };
  });
}

/** The good reading to compare with: measured with the probes the same way, else from the profile, else what it is made for. */
function referenceFor(
  kept: readonly ReferenceRow[],
  profile: Profile | null,
  where: string,
  mode: Reading['mode'],
  phase: ProbePhase | null,
  redProbe: Reading['redProbe'],
): number | null {
  const own = kept.findLast(
    (r) => r.where === where && r.mode === mode && r.phase === phase && r.red_probe === redProbe && !r.ol,
  );
  if (own) return own.value;
  const rail = profile?.rails.find((r) => r.id === where);
  if (mode === 'voltage') return rail?.nominalV ?? null;
  // A profile's diode readings are taken with the red probe on ground.
  if (mode === 'diode' && redProbe !== 'ground') return null;
  return profile?.references.find((r) => r.where === where && r.mode === mode)?.value ?? null;
}

/** What to do at the opened device of a job, and what that is planned from. */
export async function loadBoardPlan(
  q: Queries,
  jobId: number,
): Promise<{ content: JobContent; known: KnownProfile | null; plan: BoardPlan }> {
  const content = await loadContent(q, jobId);
  const { job, runs } = content;
  const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
  const shapes = new Map<string, Shape>(runs.map((r) => [r.run_key, r.shape]));
  const confirmed = await confirmedBefore(q, job);
  const shop = await loadPolicy(q);
  const plan = await think.planBoard({ ...caseOf(content), outcome: null }, shapes, known, { confirmed, shop });
  return { content, known, plan };
}

/** The name of an element of the job's profile; what was typed where it has none of that name. */
export function nameIn(known: KnownProfile | null, text: string): string {
  return known ? (elementNamed(known.profile, text)?.name ?? text) : text;
}
