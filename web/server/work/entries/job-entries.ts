import { checkTypes, circuitNames, isCheck, sayAction } from '@umbral/core';
import type { InferType } from 'yup';
import { json, transaction, type Queries } from '../../record/db.ts';
import { asked, ExpectedError, missing } from '../../record/errors.ts';
import {
  quantityOrNull,
  type checkInput,
  type injectionInput,
  type moveInput,
  type placeNameInput,
  type runBeforeInput,
  type timeInput,
  type voidInput,
} from '../../record/input.ts';
import { changeRows, enterRows, entryNames } from './corrections.ts';
import { followedAction, loadContent, refuseCircle } from '../jobs/jobs.ts';
import { actionOf, type ActionRow, type JobContent } from '../../record/rows.ts';

/** A check as it is entered; the place may be left out. */
type CheckPlace = 'where' | 'circuit' | 'rail' | 'half' | 'unplugged';
type CheckEntry = Omit<InferType<typeof checkInput>, CheckPlace | 'confirmed'> &
  Partial<Pick<InferType<typeof checkInput>, CheckPlace | 'confirmed'>>;

/** A check as columns; what it is and its outcome are checked against the catalogue. */
function checkColumns(input: CheckEntry): object {
  const type = isCheck(input.check) ? checkTypes[input.check] : null;
  if (!type) throw new ExpectedError('input', `Check: "${input.check}" is not known`);
  if (type.outcomes.length > 0 && !type.outcomes.includes(input.outcome ?? '')) {
    throw new ExpectedError(
      'input',
      `Outcome: expected one of ${type.outcomes.map((word) => word.replaceAll('-', ' ')).join(', ')}`,
    );
  }
  return {
    check_id: input.check,
    outcome: input.outcome,
    note: input.note,
    where: input.where ?? '',
    circuit: input.circuit ?? null,
    rail: input.rail ?? '',
    half: input.half ?? null,
    unplugged: json(input.unplugged ?? []),
  };
}

const sayCheck = (input: CheckEntry): string =>
  `${isCheck(input.check) ? checkTypes[input.check].name : input.check}: ${(input.outcome ?? 'noted').replaceAll('-', ' ')}`;

/** The same check of the same thing in the same state of the device, with another outcome; null where there is none. */
function oppositeOf(input: CheckEntry, after: string | null, { record }: JobContent): string | null {
  const isSame = (a: readonly string[], b: readonly string[]): boolean => [...a].sort().join() === [...b].sort().join();
  const before = record.checks.findLast(
    (c) =>
      c.check_id === input.check &&
      c.after_action === after &&
      c.void_why === null &&
      c.where === (input.where ?? '') &&
      c.rail === (input.rail ?? '') &&
      c.half === (input.half ?? null) &&
      isSame(c.unplugged, input.unplugged ?? []),
  );
  return before?.outcome && input.outcome && before.outcome !== input.outcome ? before.outcome : null;
}

/**
 * @returns the number of the entry, by which it can be taken back
 * @throws {ExpectedError} for an unknown check, or an outcome that it does not have; `asked` where `confirmed` is false and
 * the opposite was answered before
 */
export async function addCheck(input: CheckEntry): Promise<number> {
  const columns = checkColumns(input);
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const follows = { after_action: followedAction(content, input.after) };
    const before = oppositeOf(input, follows.after_action, content);
    if (before !== null && input.confirmed === false)
      throw asked([
        `You have already answered this with “${before.replaceAll('-', ' ')}”, and nothing has been changed since. Now it is “${(input.outcome ?? '').replaceAll('-', ' ')}”. To replace the earlier answer, correct it in the story. Keep both only if it really comes and goes.`,
      ]);
    const [id] = await enterRows(q, input.jobId, sayCheck(input), [
      { table: 'checks', columns: { ...columns, ...follows } },
    ]);
    return id;
  });
}

/**
 * Corrects a check.
 *
 * @throws {ExpectedError} as {@link addCheck}
 */
export async function editCheck(input: CheckEntry & { entryId: number }): Promise<number> {
  const columns = checkColumns(input);
  return transaction((q) =>
    changeRows(q, input.jobId, `corrected: ${sayCheck(input)}`, [{ table: 'checks', id: input.entryId, columns }]),
  );
}

type InjectionEntry = InferType<typeof injectionInput>;

/** An injection as columns. */
function injectionColumns(input: InjectionEntry): object {
  const number = (text: string, kind: 'voltage' | 'current' | 'resistance', label: string): number | null => {
    const value = quantityOrNull(text, kind, label);
    if (value !== null && value < 0) throw new ExpectedError('input', `${label}: cannot be negative`);
    return value;
  };
  const setV = number(input.setV, 'voltage', 'Volts');
  if (setV === null || setV === 0) throw new ExpectedError('input', 'Volts: enter the injected voltage, above zero');
  return {
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
  };
}

/**
 * A voltage that was put on a rail from any supply, with what flowed and what warmed.
 *
 * @throws {ExpectedError} for values below 0, or no voltage
 */
export async function addInjection(input: InjectionEntry): Promise<void> {
  const columns = injectionColumns(input);
  await transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    await insertInjection(q, content, { ...columns, after_action: followedAction(content, input.after) });
  });
}

/** Corrects an injection. Throws as {@link addInjection}. */
export async function editInjection(input: InjectionEntry & { entryId: number }): Promise<number> {
  const columns = injectionColumns(input);
  return transaction((q) =>
    changeRows(q, input.jobId, `corrected: injection into ${input.rail}`, [
      { table: 'injections', id: input.entryId, columns },
    ]),
  );
}

/** Stores an injection under the next free name, and lets the suspects follow. */
export async function insertInjection(q: Queries, { job }: JobContent, columns: object): Promise<void> {
  const taken = new Set((await q('injections').where({ job_id: job.id }).pluck('injection_key')) as string[]);
  let n = taken.size + 1;
  while (taken.has(`i${n}`)) n++;
  await enterRows(q, job.id, `injection i${n}`, [
    { table: 'injections', columns: { injection_key: `i${n}`, ...columns } },
  ]);
}

/** Says what a place is: the circuit that it belongs to, or that another name is the same place. It holds for everything entered there. */
export async function namePlace(input: InferType<typeof placeNameInput>): Promise<void> {
  const { jobId, where, circuit, same } = input;
  await transaction(async (q) => {
    await loadContent(q, jobId);
    const what = circuit ? `${where}: ${circuitNames[circuit]}` : `${where} and ${same.join(', ')} are one place`;
    await enterRows(q, jobId, what, [{ table: 'place_names', columns: { where, circuit, same: json(same) } }]);
  });
}

/**
 * Marks an entry as void with the reason: it stays in the record and counts for nothing. With an empty reason it counts again.
 *
 * @returns the step that undoes it, and what is worth saying of it
 * @throws {ExpectedError} for an entry that the job does not have
 */
export async function setVoid(input: InferType<typeof voidInput>): Promise<{ step: number; says: string }> {
  const { jobId, table, entryId, why } = input;
  return transaction(async (q) => {
    const content = await loadContent(q, jobId);
    if (!content.record[table].some((e) => e.id === entryId)) throw missing(`This ${entryNames[table]}`);
    const what = why === '' ? `${entryNames[table]} counts again` : `${entryNames[table]} void: ${why}`;
    const step = await changeRows(q, jobId, what, [{ table, id: entryId, columns: { void_why: why || null } }]);
    const isOnlyRun = table === 'runs' && why !== '' && content.runs.every((r) => r.id === entryId);
    return {
      step,
      says: isOnlyRun
        ? 'This was the only run. The suspects now rest on the intake and on what else was entered.'
        : why === ''
          ? 'It counts again.'
          : 'It counts for nothing now and stays in the record.',
    };
  });
}

/**
 * Says when an entry was done. It has to lie after the change that it follows and before the next one.
 *
 * @throws {ExpectedError} for a time outside of its state, or in the future
 */
export async function setTime(input: InferType<typeof timeInput>): Promise<number> {
  const { jobId, table, entryId, at } = input;
  return transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const row = content.record[table].find((e) => e.id === entryId);
    if (!row) throw missing(`This ${entryNames[table]}`);
    if (at.getTime() > Date.now() + minute) throw new ExpectedError('input', 'Time: it lies in the future.');
    if (table !== 'actions') refuseOutsideState(content, row as { after_action: string | null }, at);
    const what = `time of a ${entryNames[table]} set`;
    return changeRows(q, jobId, what, [{ table, id: entryId, columns: { done_at: at } }]);
  });
}

const minute = 60_000;

/** Refuses a time before the change that an entry follows, or after the next one. */
function refuseOutsideState({ record }: JobContent, { after_action }: { after_action: string | null }, at: Date): void {
  const k = record.actions.findIndex((a) => a.action_key === after_action);
  const [before, next] = [k < 0 ? undefined : record.actions[k], record.actions[k + 1]];
  const when = (action: ActionRow): Date => action.done_at ?? action.created_at;
  const say = (action: ActionRow): string => `“${sayAction(actionOf(action))}”`;
  if (before && at < when(before))
    throw new ExpectedError(
      'input',
      `Time: this entry follows the change ${say(before)} and cannot be earlier. Move it to an earlier change first.`,
    );
  if (next && !next.planned && at > when(next))
    throw new ExpectedError(
      'input',
      `Time: this entry came before the change ${say(next)} and cannot be later. Move it to that change first.`,
    );
}

/**
 * Puts an entry under another change, or before any: what was seen belongs to the state of the device that it describes.
 *
 * @throws {ExpectedError} for a change that the job does not have, or one that names the run as the state before it
 */
export async function moveEntry(input: InferType<typeof moveInput>): Promise<number> {
  const { jobId, table, entryId, after } = input;
  return transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const follows = followedAction(content, after);
    const run = table === 'runs' ? content.runs.find((r) => r.id === entryId) : undefined;
    if (run) refuseCircle(content, run.run_key, follows);
    return changeRows(q, jobId, `${entryNames[table]} moved to another change`, [
      { table, id: entryId, columns: { after_action: follows } },
    ]);
  });
}

/**
 * Names the run that shows the state before a change.
 *
 * @throws {ExpectedError} for a run that was made after the change
 */
export async function setRunBefore(input: InferType<typeof runBeforeInput>): Promise<number> {
  const { jobId, action, run } = input;
  return transaction(async (q) => {
    const content = await loadContent(q, jobId);
    const row = content.runs.find((r) => r.run_key === run);
    if (!row) throw missing(`Run ${run}`);
    const order = content.actions.map((a) => a.action_key);
    const changed = content.actions.find((a) => a.action_key === action);
    if (!changed) throw missing('This change');
    if (row.after_action !== null && order.indexOf(row.after_action) >= order.indexOf(action))
      throw new ExpectedError('input', `Run ${run} was made after this change, so it cannot show the state before it.`);
    return changeRows(q, jobId, `another run shows the state before a change`, [
      { table: 'actions', id: changed.id, columns: { run_before: run } },
    ]);
  });
}
