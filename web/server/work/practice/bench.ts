import {
  checkIds,
  formatCurrent,
  instrumentModels,
  leadsOhm,
  neverShown,
  readTypedTogether,
  targetOf,
  type CheckId,
  type CircuitId,
  type FedRail,
  type InstrumentName,
  type PowerOn,
  type ProbePhase,
} from '@umbral/core';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { atUnit } from '../../analysis/engine.ts';
import type { UnitAtHand } from '../../analysis/engine-answers.ts';
import { db, json, plainText, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { addCheck, insertInjection } from '../entries/job-entries.ts';
import { loadContent, newestAction, verdictDue } from '../jobs/jobs.ts';
import { saveReading } from '../opened/measure.ts';
import { measureInput, type MeasureInput } from '../opened/measure-input.ts';
import type { Person } from '../../record/actor.ts';
import { deviceOf, nextRunKey, storeRun } from '../entries/record.ts';
import { actionOf, type JobContent, type PracticeUnitRow } from '../../record/rows.ts';
import { ownUnit, said } from './units.ts';

const jobId = yup.number().integer().positive().required();
const volts = yup
  .number()
  .typeError('Volts: expected a number, such as 3.85')
  .positive('Volts: expected more than 0')
  .max(60, 'Volts: expected at most 60');
const limit = yup
  .number()
  .typeError('Limit: expected a number of amperes, such as 1.5')
  .positive('Limit: expected more than 0')
  .max(20, 'Limit: expected at most 20 A');

export const powerInput = yup.object({
  jobId,
  feed: yup.string().oneOf(['battery', 'usb-c', 'dc-in']).required(),
  instrument: yup
    .string()
    .oneOf(Object.keys(instrumentModels) as InstrumentName[])
    .required(),
  setV: volts.nullable().default(null),
  limitA: limit.nullable().default(null),
  port: yup.number().integer().min(1).max(8).default(1),
  flipped: yup.boolean().default(false),
  battery: yup.boolean().default(true),
  presses: yup.boolean().default(true),
  unplugged: yup.array(yup.string().max(100).required()).max(20).default([]),
});
export const lookInput = yup.object({ jobId, check: yup.string().oneOf(checkIds).required() });
export const probeInput = yup.object({
  jobId,
  rail: yup.string().max(100).required(),
  mode: yup.string().oneOf(['voltage', 'resistance']).required(),
  phase: yup.string().oneOf(['before', 'after', 'plugged']).default('after'),
});
export const feedInput = yup.object({
  jobId,
  rail: yup.string().max(100).required('Rail: choose where the leads are'),
  setV: volts.required(),
  limitA: limit.required(),
});

/** The unit as it is after the changes that were entered for its job. */
export function unitAtHand(unit: PracticeUnitRow, { actions }: Pick<JobContent, 'actions'>): UnitAtHand {
  const { device, faults, seed } = unit;
  return { device, faults, seed, actions: actions.map(actionOf) };
}

/**
 * Feeds a unit, presses its button, and keeps what its instrument logged as a run of the job.
 *
 * @returns name of the run
 * @throws {ExpectedError} for a setup that this device does not allow
 */
export async function powerUnit(input: yup.InferType<typeof powerInput>, person: Person): Promise<string> {
  const { unit, content } = await unitAtWork(db(), input.jobId, person);
  const key = await nextRunKey(db(), input.jobId);
  const on: PowerOn = { ...input, feed: input.feed, instrument: input.instrument as InstrumentName };
  const nth = Number(key.slice(1)) - 1;
  const { run, trace } = await said(() => atUnit(unitAtHand(unit, content), 'record', on, nth));
  return transaction(async (q) => {
    await storeRun(
      q,
      input.jobId,
      { ...run, id: key, file: `${key}.csv`, after: newestAction(content) },
      deviceOf(content),
      trace,
    );
    await addAudit(q, input.jobId, `run ${key} of the practice unit`);
    await verdictDue(q, input.jobId, `run ${key}`);
    return key;
  });
}

/** What a display that does not log shows over time. Seconds, volts, amperes. */
export interface WatchedDisplay {
  t: number[];
  volts: number[];
  amps: number[];
  promptAt: number | null;
  /** How the line begins that the readings are typed into. */
  line: string;
}

/**
 * Feeds a unit and presses its button, and keeps nothing: what the display shows is for whoever watches it.
 *
 * @throws {ExpectedError} for a setup that this device does not allow
 */
export async function watchUnit(input: yup.InferType<typeof powerInput>, person: Person): Promise<WatchedDisplay> {
  const { unit, content } = await unitAtWork(db(), input.jobId, person);
  const on: PowerOn = { ...input, feed: input.feed, instrument: input.instrument as InstrumentName };
  const { run, trace } = await said(() => atUnit(unitAtHand(unit, content), 'record', on, content.runs.length));
  await keepWatched(input.jobId, trace.i);
  const { setV, limitA } = run.setup;
  const supply = [input.feed, setV === null ? '' : `${setV}V`, limitA === null ? '' : `limit ${limitA}A`];
  const feed = input.feed === 'usb-c' ? `usb-c port ${input.port}` : supply.filter(Boolean).join(' ');
  return {
    t: Array.from(trace.t),
    volts: Array.from(trace.v),
    amps: Array.from(trace.i),
    promptAt: run.markers.find((m) => m.event === 'prompt')?.t ?? null,
    line: `${feed}: `,
  };
}

/**
 * Makes a check on the unit, and keeps what it shows.
 *
 * @returns the outcome; null for what cannot be seen on a virtual device, which keeps nothing
 */
export async function lookAtUnit(input: yup.InferType<typeof lookInput>, person: Person): Promise<string | null> {
  const check = input.check as CheckId;
  const { unit, content } = await unitAtWork(db(), input.jobId, person);
  const outcome = await atUnit(unitAtHand(unit, content), 'check', check);
  if (outcome !== null) await addCheck({ jobId: input.jobId, check, outcome, note: '', after: undefined });
  return outcome;
}

/** Probes a rail of the unit; what the meter shows is kept as a reading of the job. */
export async function saveProbed(input: yup.InferType<typeof probeInput>, person: Person): Promise<{ shows: string }> {
  const { jobId, rail } = input;
  const mode = input.mode as 'voltage' | 'resistance';
  const phase = input.phase as ProbePhase;
  const { unit, content } = await unitAtWork(db(), jobId, person);
  const shows = await said(() => atUnit(unitAtHand(unit, content), 'probe', rail, mode, phase));
  await db()('practice_units').where({ job_id: jobId }).increment('looks');
  const spec = unit.device.rails.find((r) => r.id === rail);
  const taken = measureInput.cast({
    jobId,
    where: spec?.name ?? rail,
    text: shows,
    mode,
    phase,
    circuit: spec?.circuit ?? null,
    state: spec?.state ?? null,
    leadsOhm: mode === 'resistance' ? leadsOhm : null,
    confirmed: true,
  });
  await saveReading(taken as MeasureInput);
  return { shows };
}

/** Holds a supply to a rail of the unit; what flows and what warms is kept as an injection. */
export async function feedUnit(input: yup.InferType<typeof feedInput>, person: Person): Promise<FedRail> {
  const { unit, content } = await unitAtWork(db(), input.jobId, person);
  const { rail, setV, limitA } = input;
  const fed = await said(() => atUnit(unitAtHand(unit, content), 'feed', rail, setV, limitA));
  return transaction(async (q) => {
    const hot = fed.heat.hot === null ? null : targetOf(unit.device, fed.heat.hot);
    const spec = unit.device.rails.find((r) => r.id === rail);
    await insertInjection(q, content, {
      rail,
      circuit: (spec?.circuit as CircuitId | undefined) ?? null,
      set_v: setV,
      limit_a: limitA,
      amps: Number(fed.amps.toFixed(3)),
      heat: fed.heat.outcome,
      hot: hot?.name ?? null,
      hot_circuit: hot?.circuit ?? null,
      note: '',
      after_action: newestAction(content),
    });
    return fed;
  });
}

/**
 * A practice unit is asked and never believed: what is seen, read and injected comes from its bench.
 *
 * @throws {ExpectedError} for an entry by hand
 */
export async function refuseInvented(jobId: number): Promise<void> {
  if (!(await db()('jobs').where({ id: jobId, is_practice: true }).first('id'))) return;
  throw new ExpectedError(
    'input',
    'This is a practice unit. Look, probe and inject on its own bench: what it shows is saved from there.',
  );
}

/** Notes what a display showed, to hold against it what is typed. */
async function keepWatched(jobId: number, amps: ArrayLike<number>): Promise<void> {
  const shown = [...new Set(Array.from(amps, (a) => Number(a.toPrecision(3))))].filter(Number.isFinite);
  await db().raw('UPDATE practice_units SET watched = watched || ?::jsonb WHERE job_id = ?', [json(shown), jobId]);
}

/**
 * A line that is typed for a practice unit was read off its display.
 *
 * @throws {ExpectedError} for a display that nobody watched, and for a level that it never showed
 */
export async function refuseUnread(jobId: number, line: string): Promise<void> {
  const unit = await db()('practice_units').where({ job_id: jobId }).first('watched');
  if (!unit) return;
  if (unit.watched.length === 0)
    throw new ExpectedError('input', 'This is a practice unit. Power it on with a display and watch it first.');
  for (const { trace } of readTypedTogether(plainText(line), (k) => `r${k + 1}`)) {
    const amps = neverShown(trace, unit.watched);
    // What it did show is for whoever watches.
    if (amps !== null)
      throw new ExpectedError('input', `The display never showed ${formatCurrent(amps)}. Watch it again.`);
  }
}

/** A unit that is worked on, with its job. */
export async function unitAtWork(
  q: Queries,
  jobId: number,
  person: Person,
): Promise<{ unit: PracticeUnitRow; content: JobContent }> {
  const unit = await ownUnit(q, jobId, person);
  if (unit.finished_at !== null) throw new ExpectedError('input', 'This unit is finished. Take the next one.');
  return { unit, content: await loadContent(q, jobId) };
}
