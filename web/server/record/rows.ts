import {
  checkFields,
  emptyIntake,
  fromColumns,
  injectionFields,
  proofFields,
  readingFields,
  type Action,
  type Case,
  type Check,
  type Device,
  type Extra,
  type Injection,
  type Proof,
  type Reading,
  type Run,
  readNotes,
} from '@umbral/core';
import type {
  ActionRow,
  CheckRow,
  InjectionRow,
  JobRow,
  PlaceNameRow,
  ProofRow,
  ReadingRow,
  RunRow,
} from './tables.ts';

export type * from './tables.ts';

/** Keys kept from a package, only where there are any. */
const kept = (extra: Extra | null | undefined): { extra?: Extra } => (extra ? { extra } : {});

/** When a row was done and that it counts for nothing, only where it was said. */
const entered = (row: { done_at: Date | null; void_why: string | null }) => ({
  ...(row.done_at ? { at: row.done_at.toISOString() } : {}),
  ...(row.void_why ? { void: { why: row.void_why } } : {}),
});

/** The rest of an entry: what a package had beside what is known, and what every entry bears. */
const around = (row: { done_at: Date | null; void_why: string | null; extra: Extra | null }) => ({
  ...entered(row),
  ...kept(row.extra),
});

export function runOf(row: RunRow): Run {
  return {
    id: row.run_key,
    file: row.file_name,
    typed: row.typed,
    feed: row.feed,
    quantity: row.quantity,
    instrument: row.instrument,
    setup: row.setup,
    markers: row.markers,
    contract: row.contract,
    after: row.after_action,
    ...around(row),
  };
}

export const checkOf = (row: CheckRow): Check => ({
  ...fromColumns(checkFields, row),
  ...(row.setup ? { setup: row.setup } : {}),
  ...around(row),
});

export const readingOf = (row: ReadingRow): Reading => ({ ...fromColumns(readingFields, row), ...around(row) });

export function actionOf(row: ActionRow): Action {
  const { kind, circuit, target, note } = row;
  const { run_before: runBefore, undoes } = row;
  const planned = row.planned ? { planned: true as const } : {};
  const notes = readNotes(row.extra);
  return { id: row.action_key, kind, circuit, target, note, runBefore, undoes, ...planned, ...entered(row), ...notes };
}

export const injectionOf = (row: InjectionRow): Injection => ({ ...fromColumns(injectionFields, row), ...around(row) });

/** A proof as the engine knows it; a time that still runs is none yet. */
export function proofOf(row: ProofRow): Proof | null {
  if (row.result === null) return null;
  return { ...fromColumns(proofFields, { ...row, id: `p${row.id}`, result: row.result }), ...around(row) };
}

/** What was entered in a job, in the order in which it was done. */
export interface JobEntries {
  runs: RunRow[];
  checks: CheckRow[];
  readings: ReadingRow[];
  injections: InjectionRow[];
  actions: ActionRow[];
  proofs: ProofRow[];
}

/** A job with what counts of it; beside that its whole record, with what is void or only planned. */
export interface JobContent extends JobEntries {
  job: JobRow;
  places: PlaceNameRow[];
  record: JobEntries;
}

export function deviceOfRow(job: JobRow): Device {
  return {
    class: job.device_class,
    model: job.model,
    serial: job.serial,
    profile: job.profile,
    expect: job.expect,
    ...kept(job.extra.device),
  };
}

/** A job as the engine and the packages know it. */
export function caseOf({ job, runs, checks, readings, injections, actions, proofs, places }: JobContent): Case {
  return {
    id: job.case_id || `job-${job.id}`,
    device: deviceOfRow(job),
    complaint: job.complaint,
    complaintKind: job.complaint_kind,
    intake: { ...emptyIntake, ...job.intake },
    runs: runs.map(runOf),
    checks: checks.map(checkOf),
    readings: readings.map(readingOf),
    injections: injections.map(injectionOf),
    actions: actions.map(actionOf),
    proofs: proofs.flatMap((p) => proofOf(p) ?? []),
    places: places.map(({ where, circuit, same, net }) => ({
      where,
      circuit,
      ...(same.length > 0 ? { same } : {}),
      ...(net === null ? {} : { net }),
    })),
    outcome:
      job.outcome_grade === null
        ? null
        : {
            grade: job.outcome_grade,
            circuit: job.outcome_circuit,
            target: job.outcome_target,
            fix: job.outcome_fix,
            ...kept(job.outcome_extra),
          },
    ...kept(job.extra.case),
  };
}

/** A job with everything that was entered in it, void and planned entries included, as a package has it. */
export const recordOf = (content: JobContent): Case => caseOf({ ...content, ...content.record });
