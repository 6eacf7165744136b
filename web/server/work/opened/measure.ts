import {
  compareReading,
  elementsNamed,
  formatResistance,
  formatVoltage,
  parseReading,
  parseSweep,
  type BoardPlan,
  type CircuitId,
  type Comparable,
  type Profile,
  type ProbePhase,
  type Reading,
  type TypedReading,
} from '@umbral/core';
import type * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import * as engine from '../../analysis/engine.ts';
import { json, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { changeRows, enterRows } from '../entries/corrections.ts';
import { askedOf, followedAction, loadContent } from '../jobs/jobs.ts';
import { mayBePlace } from '../jobs/places.ts';
import { findProfile, type KnownProfile } from '../shop/profiles.ts';
import { type JobContent, type JobRow, type ReadingRow } from '../../record/rows.ts';
import type { ReferenceReadingRow } from '../../record/tables.ts';
import type { readingEditInput, sweepInput } from './measure-input.ts';
import { type MeasureInput } from './measure-input.ts';

/** What became of a typed reading: kept, or asked about first. */
export interface Taken {
  asks: string[];
  kept: boolean;
  /** A place of the job that it may be; null where that is no question. */
  sameAs?: string | null;
}

export type ReferenceRow = Omit<ReferenceReadingRow, 'job_id' | 'created_at' | 'person_id'>;

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
 * Keeps a reading typed at the ladder or in the job, of the patient or of a good board beside it; what is odd is asked
 * about first.
 *
 * @throws {ExpectedError} for what cannot be, by name
 */
export async function saveReading(input: MeasureInput): Promise<Taken> {
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const place = await placeOf(q, content, input.where, input);
    const entry = parseReading(input.text, {
      mode: input.mode as Reading['mode'],
      leadsOhm: input.leadsOhm,
      nominalV: place.rail?.nominalV ?? null,
    });
    if (!entry.ok) throw new ExpectedError('input', `Value: ${entry.error}`);
    if (input.across && entry.reading.mode !== 'resistance')
      throw new ExpectedError('input', 'Across a part: measure in ohms, unpowered.');
    const sameAs = mayBePlace(content, place.where);
    const columns = input.good ? null : await readingColumns(q, content, place, entry.reading, input);
    const asks = [...entry.asks, ...(columns ? againstEarlier(content, columns) : [])];
    if ((asks.length > 0 || sameAs !== null) && !input.confirmed) return { asks, kept: false, sameAs };
    if (!columns) {
      await keepGood(q, content, place, entry.reading, input);
      return { asks: [], kept: true };
    }
    await enterRows(q, input.jobId, `reading at ${place.name}`, [{ table: 'readings', columns }]);
    return { asks: [], kept: true };
  });
}

/** What became of many points typed in one go. */
interface SweepTaken extends Taken {
  points: number;
  /** Points that stand out among the others, in sentences. */
  standsOut: string[];
}

/**
 * Keeps many points typed in one go: all of them, or none where one cannot be read.
 *
 * @throws {ExpectedError} where the line cannot be read
 */
export async function saveSweep(input: yup.InferType<typeof sweepInput>): Promise<SweepTaken> {
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const sweep = parseSweep(input.text, {
      mode: input.mode as Reading['mode'],
      leadsOhm: input.leadsOhm,
      nominalV: null,
    });
    if (!sweep.ok) throw new ExpectedError('input', `Points: ${sweep.error}`);
    if (sweep.asks.length > 0 && !input.confirmed) return { asks: sweep.asks, kept: false, points: 0, standsOut: [] };
    const rows: { table: 'readings'; columns: object }[] = [];
    for (const point of sweep.points) {
      const place = await placeOf(q, content, point.where, input);
      const how = { ...input, across: false, reference: '' };
      rows.push({ table: 'readings', columns: await readingColumns(q, content, place, point.reading, how) });
    }
    await enterRows(q, input.jobId, `${sweep.points.length} points read`, rows);
    return { asks: [], kept: true, points: sweep.points.length, standsOut: sweep.standsOut };
  });
}

/** Where a probe stood, as far as it is known. */
interface ProbePlace {
  /** Id of the profile's rail, or the name as it was typed. */
  where: string;
  name: string;
  rail: Profile['rails'][number] | null;
  circuit: CircuitId | null;
  state: Reading['state'];
  profile: Profile | null;
}

async function placeOf(
  q: Queries,
  { job, readings }: JobContent,
  where: string,
  said: Pick<ProbePlace, 'circuit' | 'state'>,
): Promise<ProbePlace> {
  const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
  const profile = known?.profile ?? null;
  const rail = profile?.rails.find((r) => r.id === where || r.name.toLowerCase() === where.toLowerCase()) ?? null;
  const before = readings.findLast((r) => r.where === where);
  return {
    where: rail?.id ?? where,
    name: rail?.name ?? where,
    rail,
    // A profile's circuits and states were checked when it was read.
    circuit: rail?.circuit ?? said.circuit ?? before?.circuit ?? null,
    state: (rail?.state as Reading['state'] | undefined) ?? said.state ?? before?.state ?? null,
    profile,
  };
}

type HowTaken = Pick<MeasureInput, 'phase' | 'redProbe' | 'leadsOhm' | 'across' | 'reference' | 'after'>;

async function keepGood(
  q: Queries,
  { job }: JobContent,
  place: ProbePlace,
  reading: TypedReading,
  input: HowTaken,
): Promise<void> {
  if (job.is_practice)
    throw new ExpectedError('input', 'Known-good board: readings of a practice unit cannot become references.');
  const key = modelKeyOf(job);
  if (key === '')
    throw new ExpectedError('input', 'Model: enter it in the intake first, so others can find this reading.');
  const isVoltage = reading.mode === 'voltage';
  await q('reference_readings').insert({
    model_key: key,
    where: place.where,
    mode: reading.mode,
    phase: isVoltage ? input.phase : null,
    red_probe: isVoltage ? null : input.redProbe,
    value: reading.value,
    ol: reading.ol,
    job_id: job.id,
  });
  await addAudit(q, job.id, `known-good board at ${place.name}`);
}

/** The same point, measured the same way in the same state of the device, read otherwise: what is asked then. */
function againstEarlier({ record }: JobContent, now: ReadingColumns): string[] {
  const before = record.readings.findLast(
    (r) =>
      r.where === now.where &&
      r.mode === now.mode &&
      r.across === now.across &&
      r.red_probe === now.red_probe &&
      r.prompted === now.prompted &&
      r.feed === now.feed &&
      r.after_action === now.after_action &&
      r.void_why === null,
  );
  if (!before || !differs(now, before)) return [];
  return [
    `You have already read ${sayMeasured(before)} here, and nothing has been changed since. Now it is ${sayMeasured(now)}. To replace the earlier reading, correct it in the story. Keep both only if it really comes and goes.`,
  ];
}

type Measured = Pick<ReadingRow, 'mode' | 'value' | 'ol'>;

/** Whether one of two readings says what the other denies; as against a good board, whichever came first. */
const differs = (a: Measured, b: Measured): boolean =>
  [compareReading(sameProbe(a), sameProbe(b)), compareReading(sameProbe(b), sameProbe(a))].some((c) => c.isTelling);

const sameProbe = ({ mode, value, ol }: Measured): Comparable => ({ mode, value, ol, redProbe: null });

const sayMeasured = ({ mode, value, ol }: Measured): string =>
  ol || value === null ? 'OL' : mode === 'resistance' ? formatResistance(value) : formatVoltage(value);

/** A reading as columns; by these it is known again. */
type ReadingColumns = Pick<
  ReadingRow,
  'where' | 'mode' | 'value' | 'ol' | 'across' | 'red_probe' | 'prompted' | 'feed' | 'after_action'
> &
  Record<string, unknown>;

async function readingColumns(
  q: Queries,
  content: JobContent,
  place: ProbePlace,
  reading: TypedReading,
  input: HowTaken,
): Promise<ReadingColumns> {
  const { job, runs } = content;
  const { mode, shownOhm } = reading;
  const isVoltage = mode === 'voltage';
  const redProbe = isVoltage ? null : (input.redProbe as 'ground' | 'point');
  const phase = isVoltage ? (input.phase as ProbePhase | null) : null;
  const hasPort = place.profile ? place.profile.ports.length > 0 : runs.some((r) => r.feed === 'usb-c');
  const reference =
    input.reference === ''
      ? input.across
        ? null
        : referenceFor(await referencesOf(q, job), place.profile, place.where, mode, phase, redProbe)
      : goodValue(input.reference, mode);
  return {
    where: place.where,
    circuit: place.circuit,
    state: input.across ? null : place.state,
    prompted: phase === null ? null : phase === 'after',
    reference,
    red_probe: redProbe,
    powered: isVoltage,
    across: input.across,
    ...valueColumns(reading),
    leads_ohm: shownOhm === null ? null : input.leadsOhm,
    feed: phase === 'plugged' ? (hasPort ? 'usb-c' : 'dc-in') : null,
    after_action: followedAction(content, input.after),
  };
}

/** What of a typed reading is the measurement itself. */
function valueColumns({ mode, value, ol, unit, swing, says, bound, shownOhm }: TypedReading) {
  return { mode, value, unit, ol, says, bound, swing: swing ? json(swing) : null, shown_ohm: shownOhm };
}

/**
 * Corrects a reading: what was measured, how, and where. What it said before can be put back.
 *
 * @throws {ExpectedError} for what cannot be, by name
 */
export async function editReading(input: yup.InferType<typeof readingEditInput>): Promise<Taken> {
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const row = content.record.readings.find((r) => r.id === input.readingId);
    if (!row) throw missing('This reading');
    const mode = (input.mode ?? row.mode) as Reading['mode'];
    const entry = parseReading(input.text, { mode, leadsOhm: null, nominalV: null });
    if (!entry.ok) throw new ExpectedError('input', `Value: ${entry.error}`);
    if (row.across && entry.reading.mode !== 'resistance')
      throw new ExpectedError('input', 'Across a part: measure in ohms, unpowered.');
    if (entry.asks.length > 0 && !input.confirmed) return { asks: entry.asks, kept: false };
    const columns = valueColumns(entry.reading);
    // What the meter showed before the leads were taken off stands as long as the value does.
    const shown = columns.value === row.value ? row.shown_ohm : columns.shown_ohm;
    const isVoltage = columns.mode === 'voltage';
    // A reading in another mode was taken another way: what was said of that goes with it.
    const taken =
      columns.mode === row.mode
        ? {}
        : { powered: isVoltage, reference: null, red_probe: isVoltage ? null : 'ground', state: null, prompted: null };
    await changeRows(q, input.jobId, `corrected: reading at ${input.where}`, [
      { table: 'readings', id: row.id, columns: { where: input.where, ...columns, ...taken, shown_ohm: shown } },
    ]);
    return { asks: [], kept: true };
  });
}

/** What a good board reads, as typed. */
function goodValue(typed: string, mode: Reading['mode']): number | null {
  const read = parseReading(typed, { mode, leadsOhm: null, nominalV: null });
  if (!read.ok) throw new ExpectedError('input', `Known-good board reads: ${read.error}`);
  if (read.reading.mode !== mode)
    throw new ExpectedError('input', 'Known-good board reads: expected a value of the same kind as the reading.');
  return read.reading.value;
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
  const { value, shapes, used, options } = await askedOf(q, content);
  const plan = await engine.planBoard(value, shapes, used, options);
  return { content, known: used, plan };
}

/** The name of an element of the job's profile; what was typed where it has none of that name. */
export function nameIn(known: KnownProfile | null, text: string): string {
  return known && text !== '' ? (elementsNamed(known.profile, text)[0]?.name ?? text) : text;
}
