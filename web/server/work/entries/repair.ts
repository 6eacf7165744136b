import {
  type ActionKind,
  type ChangePrediction,
  type CircuitId,
  type PlannedChange,
  type Shape,
  type WaitKind,
  actionTypes,
  keysOfNotes,
  partsMeant,
  sayAction,
  type Origin,
  type SwappedUnit,
} from '@umbral/core';
import type { InferType } from 'yup';
import * as engine from '../../analysis/engine.ts';
import { startWait } from './waits.ts';
import { json, transaction, type Queries } from '../../record/db.ts';
import { dumpsOf, judgeDumps } from './dumps.ts';
import type { actionInput } from '../../record/input.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { changeRows, enterRows } from './corrections.ts';
import { hasAnything, loadContent } from '../jobs/jobs.ts';
import { mayBePlace } from '../jobs/places.ts';
import { findProfile } from '../shop/profiles.ts';
import { actionOf, caseOf, type JobContent, type PracticeUnitRow } from '../../record/rows.ts';

/** What became of a change that was entered: kept, or asked about first. */
export interface Entered {
  kept: boolean;
  asks: string[];
  /** A place of the job that its part may be; null where that is no question. */
  sameAs?: string | null;
}

/** What each leading suspect expects of the run after a change. */
export async function predictionsFor(
  q: Queries,
  content: JobContent,
  change: PlannedChange,
): Promise<ChangePrediction[]> {
  const { job, runs } = content;
  if ((change.target.trim() === '' && change.circuit === null) || !hasAnything(content)) return [];
  const known = job.profile ? await findProfile(q, job.profile, job.profile_version) : null;
  const shapes = new Map<string, Shape>(runs.map((r) => [r.run_key, r.shape]));
  return engine.predictChange({ ...caseOf(content), outcome: null }, shapes, known, change);
}

/** The last run with nothing unplugged shows the state before. */
function runBefore({ runs }: JobContent): string | null {
  return (runs.findLast((r) => r.setup.unplugged.length === 0) ?? runs.at(-1))?.run_key ?? null;
}

/** What is missing before a change can count: a run before it, a run after the last one, the old content of a chip. */
async function gate(q: Queries, content: JobContent, input: ChangeInput): Promise<string[]> {
  const { runs, actions, readings, injections, checks } = content;
  if (input.planned || actionTypes[input.kind].isAssembly) return [];
  const asks: string[] = [];
  // A repair by meter alone has its measurement before it.
  if (runs.length + readings.length + injections.length === 0)
    asks.push(
      'Nothing was recorded before this change. It cannot be recorded later, and without it the change cannot be judged. Record a run first?',
    );
  const last = actions.at(-1);
  const isSeen = [...runs, ...readings, ...injections, ...checks].some((x) => x.after_action === last?.action_key);
  if (last && !isSeen && actionTypes[last.kind].isRepair && actionTypes[input.kind].isRepair)
    asks.push(
      `Nothing was recorded after the last change (${sayAction(actionOf(last))}). With two repairs in a row you cannot tell which one helped. Record a run first?`,
    );
  if (input.kind === 'reload-firmware') {
    const verdict = judgeDumps(await dumpsOf(q, input.jobId));
    if (!verdict.isSafe) asks.push(verdict.says);
  }
  if (asksNumber(input) && (input.part === '' || input.orientation === ''))
    asks.push('Add the part number and the orientation now? You cannot read them once the part is off.');
  if (input.kind === 'burn')
    asks.push(
      'A burn-off cannot be undone. It can leave a leak and damage inner layers. Did you try to locate the short first?',
    );
  return asks;
}

/** A capacitor has no number that could be read, and a whole unit is known by its name. */
const asksNumber = ({ kind, unit, target }: ChangeInput): boolean =>
  actionTypes[kind].comesOff === true && unit === null && !numberless.test(target);
const numberless =
  /\b(?:(?:cap(?:acitor)?s?|resistors?|beads?|coils?|inductors?|specks?|fuses?)\d*|[CRL]\d+|board|flex|cable|battery|pack|display|screen)\b/i;

type ChangeInput = InferType<typeof actionInput>;

/** A change as columns, with what every suspect expects of the run after it. */
async function changeColumns(q: Queries, content: JobContent, input: ChangeInput, asks: string[]): Promise<object> {
  const kind = input.kind as ActionKind;
  const predicts = await predictionsFor(q, content, {
    kind,
    target: input.target,
    circuit: input.circuit as CircuitId | null,
    undoes: input.undoes,
  });
  const { part, orientation, confounders } = input;
  const keys = keysOfNotes({
    part,
    orientation,
    confounders,
    predicts: predicts.map(({ element: { id, name }, p, moved, certainty }) => ({ id, name, p, moved, certainty })),
    without: asks,
    stays: input.stays && kind === 'remove' ? 'off' : null,
    unit: input.unit as SwappedUnit | null,
    with: input.with as Origin | null,
  });
  return {
    kind,
    circuit: input.circuit,
    target: input.target,
    note: input.note,
    undoes: input.undoes,
    planned: input.planned,
    extra: keys && json(keys),
  };
}

/**
 * A practice unit has to know what was worked on.
 *
 * @throws {ExpectedError} where it has no such part, with those of the circuit or some of all
 */
async function refuseUnknownPart(q: Queries, { job }: JobContent, input: ChangeInput): Promise<void> {
  if (!job.is_practice || input.undoes !== null || !actionTypes[input.kind].isRepair) return;
  const unit = await q<PracticeUnitRow>('practice_units').where({ job_id: job.id }).first();
  if (!unit || partsMeant(unit.device, input).length > 0) return;
  throw new ExpectedError(
    'input',
    input.target === ''
      ? 'Part: say which part or circuit of the practice unit you repaired.'
      : `Part: this practice unit has no part called “${input.target}”. Choose the circuit that it belongs to, or one of the parts that the field offers.`,
  );
}

const sayChange = (input: ChangeInput): string =>
  `${actionTypes[input.kind].name}: ${input.target || input.unit || input.circuit || 'no part named'}`;

/**
 * Enters one change with what each suspect expects of the run after it. What is missing is asked for first, and may be
 * gone without where it cannot be had.
 *
 * @throws {ExpectedError} where it takes back a change that the job does not have
 */
export async function enterChange(input: ChangeInput): Promise<Entered> {
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const { actions } = content.record;
    if (input.undoes !== null && !content.actions.some((a) => a.action_key === input.undoes))
      throw new ExpectedError('input', 'Undoes: this job has no such change.');
    await refuseUnknownPart(q, content, input);
    const asks = await gate(q, content, input);
    const sameAs = mayBePlace(content, input.target);
    if ((asks.length > 0 || sameAs !== null) && !input.confirmed) return { kept: false, asks, sameAs };
    const taken = await q('actions').where({ job_id: input.jobId }).pluck<string[]>('action_key');
    let n = actions.length + 1;
    while (taken.includes(`a${n}`)) n++;
    const columns = {
      ...(await changeColumns(q, content, input, asks)),
      action_key: `a${n}`,
      run_before: input.runBefore ?? runBefore(content),
    };
    await enterRows(q, input.jobId, sayChange(input), [{ table: 'actions', columns }]);
    if (input.waitKind !== null)
      await startWait(q, {
        jobId: input.jobId,
        kind: input.waitKind as WaitKind,
        words: '',
        until: input.waitMinutes === null ? null : new Date(Date.now() + input.waitMinutes * 60_000),
        source: `action:a${n}`,
      });
    return { kept: true, asks: [] };
  });
}

/**
 * Corrects a change: what was done, to what, and what was noted of it.
 *
 * @throws {ExpectedError} for a change that the job does not have, or one that takes back itself or a later one
 */
export async function editChange(input: ChangeInput & { entryId: number }): Promise<Entered> {
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const order = content.record.actions;
    const k = order.findIndex((a) => a.id === input.entryId);
    if (k < 0) throw missing('This change');
    if (content.job.is_practice)
      throw new ExpectedError('input', 'A change to a practice unit was made as it stands: it cannot be corrected.');
    const undone = order.findIndex((a) => a.action_key === input.undoes);
    if (input.undoes !== null && (undone < 0 || undone >= k))
      throw new ExpectedError('input', 'Undoes: choose a change that was made before this one.');
    const before = actionOf(order[k]);
    const columns = await changeColumns(q, content, { ...input, planned: order[k].planned }, [...before.without]);
    await changeRows(q, input.jobId, `corrected: ${sayChange(input)}`, [
      {
        table: 'actions',
        id: input.entryId,
        columns: { ...columns, ...(input.runBefore === null ? {} : { run_before: input.runBefore }) },
      },
    ]);
    return { kept: true, asks: [] };
  });
}

/**
 * Says that a planned change was done now.
 *
 * @throws {ExpectedError} for a change that is not planned
 */
export async function confirmPlanned({ jobId, entryId }: { jobId: number; entryId: number }): Promise<number> {
  return transaction(async (q) => {
    const { record } = await loadContent(q, jobId);
    const action = record.actions.find((a) => a.id === entryId);
    if (!action) throw missing('This change');
    if (!action.planned) throw new ExpectedError('input', 'This change was done already.');
    return changeRows(q, jobId, `done as planned: ${sayAction(actionOf(action))}`, [
      { table: 'actions', id: entryId, columns: { planned: false, done_at: q.fn.now() } },
    ]);
  });
}
