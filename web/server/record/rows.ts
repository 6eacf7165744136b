import {
  emptyIntake,
  plainInjection,
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
    ...entered(row),
    ...kept(row.extra),
  };
}

export function checkOf(row: CheckRow): Check {
  const { outcome, note, where, circuit, rail, half, unplugged, setup } = row;
  const place = { where, circuit, rail, half, unplugged, ...(setup ? { setup } : {}) };
  return { id: row.check_id, outcome, note, ...place, after: row.after_action, ...entered(row), ...kept(row.extra) };
}

export function readingOf(row: ReadingRow): Reading {
  const { where, circuit, state, prompted, mode, value, unit, ol, reference, powered, across, swing, feed } = row;
  const { bound, says } = row;
  return {
    where,
    circuit,
    state,
    prompted,
    mode,
    value,
    unit,
    ol,
    reference,
    redProbe: row.red_probe,
    powered,
    bound,
    says,
    across,
    swing,
    feed,
    shownOhm: row.shown_ohm,
    leadsOhm: row.leads_ohm,
    after: row.after_action,
    ...entered(row),
    ...kept(row.extra),
  };
}

export function actionOf(row: ActionRow): Action {
  const { kind, circuit, target, note } = row;
  const { run_before: runBefore, undoes } = row;
  const planned = row.planned ? { planned: true as const } : {};
  const notes = readNotes(row.extra);
  return { id: row.action_key, kind, circuit, target, note, runBefore, undoes, ...planned, ...entered(row), ...notes };
}

export function injectionOf(row: InjectionRow): Injection {
  const { rail, circuit, amps, hot, heat } = row;
  return {
    ...plainInjection,
    id: row.injection_key,
    rail,
    circuit,
    setV: row.set_v,
    limitA: row.limit_a,
    amps,
    leadsOhm: row.leads_ohm,
    hot,
    hotCircuit: row.hot_circuit,
    heat,
    referenceA: row.reference_a,
    after: row.after_action,
    ...entered(row),
    ...kept(row.extra),
  };
}

/** A proof as the engine knows it; a time that still runs is none yet. */
export function proofOf(row: ProofRow): Proof | null {
  const { protocol, step, result, reason, run_key: run, check_id: check, after_action: after } = row;
  if (result === null) return null;
  const said = { protocol, step, result, reason, run, check, after };
  return { id: `p${row.id}`, ...said, ...entered(row), ...kept(row.extra) };
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
