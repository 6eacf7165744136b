import {
  type ActionKind,
  type ChangePrediction,
  type CircuitId,
  type PlannedChange,
  type Shape,
  type WaitKind,
  actionTypes,
  keysOfNotes,
  type SwappedUnit,
} from '@umbral/core';
import type { InferType } from 'yup';
import { addAudit } from '../platform/audit.ts';
import * as engine from '../analysis/engine.ts';
import { startWait } from '../day/waits.ts';
import { json, transaction, type Queries } from '../platform/db.ts';
import { dumpsOf, judgeDumps } from './dumps.ts';
import type { actionInput } from '../platform/input.ts';
import { ExpectedError } from '../platform/errors.ts';
import { hasAnything, loadContent, verdictDue } from './jobs.ts';
import { findProfile } from '../shop/profiles.ts';
import { caseOf, type JobContent } from '../rows.ts';

/** What became of a change that was entered: kept, or asked about first. */
export interface Entered {
  kept: boolean;
  asks: string[];
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
async function gate(q: Queries, content: JobContent, input: InferType<typeof actionInput>): Promise<string[]> {
  const { runs, actions } = content;
  const asks: string[] = [];
  if (runs.length === 0)
    asks.push(
      'There is no run before this change. It cannot be recorded later, and without it the change cannot be judged. Record one first?',
    );
  const last = actions.at(-1);
  const { readings, injections } = content;
  if (last && ![...runs, ...readings, ...injections].some((x) => x.after_action === last.action_key))
    asks.push(
      `The change before (${[last.target, actionTypes[last.kind].done].filter(Boolean).join(' ')}) has no run after it yet. With two changes you cannot tell which one helped. Record a run first?`,
    );
  if (input.kind === 'reload-firmware') {
    const verdict = judgeDumps(await dumpsOf(q, input.jobId));
    if (!verdict.isSafe) asks.push(verdict.says);
  }
  if (actionTypes[input.kind].comesOff && (input.part === '' || input.orientation === ''))
    asks.push(
      'The part number with suffix and the orientation are not noted. You cannot read them once the part is off. Check again?',
    );
  if (input.kind === 'burn')
    asks.push(
      'A burn-off cannot be undone. It can leave a leak and damage inner layers. Did you try to locate the short first?',
    );
  return asks;
}

/**
 * Enters one change with what each suspect expects of the run after it. What is missing is asked for first, and may be
 * gone without where it cannot be had.
 *
 * @throws {ExpectedError} where it takes back a change that the job does not have
 */
export async function enterChange(input: InferType<typeof actionInput>): Promise<Entered> {
  return transaction(async (q) => {
    const content = await loadContent(q, input.jobId);
    const { actions } = content;
    if (input.undoes !== null && !actions.some((a) => a.action_key === input.undoes))
      throw new ExpectedError('input', 'Undoes: this job has no such change.');
    const asks = await gate(q, content, input);
    if (asks.length > 0 && !input.confirmed) return { kept: false, asks };
    let n = actions.length + 1;
    while (actions.some((a) => a.action_key === `a${n}`)) n++;
    const kind = input.kind as ActionKind;
    const predicts = await predictionsFor(q, content, {
      kind,
      target: input.target,
      circuit: input.circuit as CircuitId | null,
      undoes: input.undoes,
    });
    const { part, orientation, confounders } = input;
    const stays = input.stays && input.kind === 'remove' ? 'off' : null;
    const unit = input.kind === 'replace' ? (input.unit as SwappedUnit | null) : null;
    const keys = keysOfNotes({
      part,
      orientation,
      confounders,
      predicts: predicts.map(({ element: { id, name }, p, moved, certainty }) => ({ id, name, p, moved, certainty })),
      without: asks,
      stays,
      unit,
    });
    await q('actions').insert({
      job_id: input.jobId,
      action_key: `a${n}`,
      kind,
      circuit: input.circuit,
      target: input.target,
      note: input.note,
      run_before: input.runBefore ?? runBefore(content),
      undoes: input.undoes,
      extra: keys && json(keys),
    });
    if (input.waitKind !== null)
      await startWait(q, {
        jobId: input.jobId,
        kind: input.waitKind as WaitKind,
        words: '',
        until: input.waitMinutes === null ? null : new Date(Date.now() + input.waitMinutes * 60_000),
        source: `action:a${n}`,
      });
    const what = `${input.kind} ${input.target || input.circuit || ''}`.trim();
    await addAudit(q, input.jobId, what);
    if (hasAnything(content)) await verdictDue(q, input.jobId, what);
    return { kept: true, asks: [] };
  });
}
