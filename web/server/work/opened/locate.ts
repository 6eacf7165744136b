import {
  namedChecks,
  circuitIds,
  compileProfile,
  atHeat,
  elementNamed,
  genericProfile,
  readHeat,
  type CircuitId,
  type Profile,
} from '@umbral/core';
import * as yup from 'yup';
import { db, json, plainText, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { id, orNull, quantityOrNull } from '../../record/input.ts';
import { enterRows } from '../entries/corrections.ts';
import { loadContent, newestAction } from '../jobs/jobs.ts';
import { findProfile } from '../shop/profiles.ts';
import type { JobContent, JobRow } from '../../record/rows.ts';
import { insertInjection } from '../entries/job-entries.ts';

export const heatInput = yup.object({
  jobId: id,
  outcome: yup
    .string()
    .oneOf(['none', 'leads-only', 'uniform', 'one-spot', 'several-spots'], 'Choose what was seen')
    .required('Choose what was seen'),
  /** Element that warms last down the power tree; empty for none. */
  hot: yup.string().max(200).default(''),
  /** Everything that was warm, the way to it included. */
  warm: yup.array().of(yup.string().max(120).required()).max(40).default([]),
  /** Rail that was fed for it; empty where the device itself ran. */
  rail: yup.string().max(200).default(''),
  /** What the supply stood at, and what flowed; empty where the device itself ran. */
  volts: yup.string().max(60).default(''),
  limit: yup.string().max(60).default(''),
  amps: yup.string().max(60).default(''),
  /** What a good board took in the same way. */
  referenceA: yup.string().max(60).default(''),
  leadsOhm: yup.number().min(0).max(5).nullable().default(null),
  /** The circuit of what warmed, where the model has no profile. */
  circuit: orNull(circuitIds, 'Circuit of the warm part'),
  note: yup
    .string()
    .transform((x: unknown) => (typeof x === 'string' ? plainText(x).trim() : x))
    .max(2000)
    .default(''),
});

export const warmInput = yup.object({
  jobId: id,
  warm: yup.array().of(yup.string().max(120).required()).max(40).default([]),
  outcome: yup.string().max(40).default(''),
});

/** What was seen warm, read on the power tree: the last place down it, and what only carries what flows there. */
export async function readWarm(input: yup.InferType<typeof warmInput>): Promise<{ last: string | null; says: string }> {
  const { job } = await loadContent(db(), input.jobId);
  const { profile } = await profileOf(db(), job);
  const spots = ({ 'one-spot': 'one', uniform: 'uniform', 'several-spots': 'several' } as const)[input.outcome] ?? null;
  const { last, says } = readHeat(compileProfile(profile), input.warm, spots);
  return { last: last?.id ?? null, says };
}

/** The profile of a job, or the generic one of its kind. */
export async function profileOf(q: Queries, job: JobRow): Promise<{ profile: Profile; isOwn: boolean }> {
  const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
  return { profile: known?.profile ?? genericProfile(job.device_class, false), isOwn: known !== null };
}

/**
 * Keeps what was seen to warm, and what flowed where a rail was fed; the suspects follow.
 *
 * @throws {ExpectedError} where the place, or the voltage that it was fed with, is missing
 */
export async function saveHeat(input: yup.InferType<typeof heatInput>): Promise<void> {
  const spots = input.outcome === 'one-spot' || input.outcome === 'several-spots' || input.outcome === 'uniform';
  if (spots && input.hot === '')
    throw new ExpectedError('input', 'Where: enter the last warm place. Everything on the way to it gets warm too.');
  const setV = quantityOrNull(input.volts, 'voltage', 'Volts');
  const amps = quantityOrNull(input.amps, 'current', 'Amperes');
  const isFed = input.rail !== '';
  if (isFed && (setV === null || setV <= 0))
    throw new ExpectedError('input', 'Volts: enter the voltage on the rail. The current needs it.');
  await transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const known = content.job.profile ? await findProfile(q, content.job.profile, content.job.profile_version) : null;
    const element = (text: string) => (known ? elementNamed(known.profile, text, atHeat) : null);
    const hot = element(input.hot);
    const hotCircuit = (input.circuit ?? hot?.circuit ?? null) as CircuitId | null;
    const also = input.warm.filter((w) => w !== input.hot).map((w) => element(w)?.name ?? w);
    const note = [also.length > 0 ? `also warm: ${also.join(', ')}` : '', input.note].filter(Boolean).join('; ');
    const extra = input.warm.length > 1 ? json({ warm: input.warm }) : null;
    if (isFed) {
      const rung = content.readings.find((r) => r.where === input.rail);
      await insertInjection(q, content, {
        rail: input.rail,
        circuit: element(input.rail)?.circuit ?? rung?.circuit ?? circuitFedBefore(content, input.rail),
        set_v: setV,
        limit_a: quantityOrNull(input.limit, 'current', 'Limit'),
        amps,
        leads_ohm: input.leadsOhm,
        reference_a: quantityOrNull(input.referenceA, 'current', 'Known-good board draws'),
        hot: spots ? input.hot : null,
        hot_circuit: spots ? hotCircuit : null,
        heat: input.outcome,
        note,
        after_action: newestAction(content),
        extra,
      });
      return;
    }
    const columns = {
      check_id: namedChecks.heat,
      outcome: input.outcome,
      note,
      where: spots ? input.hot : '',
      circuit: spots ? hotCircuit : null,
      after_action: newestAction(content),
      extra,
    };
    const what = spots ? (hot?.name ?? input.hot) : 'nothing';
    await enterRows(q, input.jobId, `heat: ${what}`, [{ table: 'checks', columns }]);
  });
}

/** The circuit that a rail of this name had when it was fed or found short before. */
function circuitFedBefore({ injections, checks }: JobContent, rail: string): CircuitId | null {
  const fed = injections.find((i) => i.rail === rail)?.circuit;
  return fed ?? (checks.some((c) => c.check_id === namedChecks.mainRail) && /main/i.test(rail) ? 'rail.main' : null);
}
