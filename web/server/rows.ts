import {
  emptyIntake,
  plainInjection,
  type Action,
  type Assessment,
  type Case,
  type Check,
  type Contract,
  type CircuitId,
  type ComplaintKind,
  type Device,
  type DeviceClass,
  type Expect,
  type Extra,
  type Feed,
  type Injection,
  type Intake,
  type Marker,
  type Proof,
  type Reading,
  type Run,
  type RunQuantity,
  type Setup,
  type Shape,
  type Span,
  type Instrument,
  type Summary,
  type Swing,
} from '@umbral/core';
import type { Preview } from './analysis/protocol.ts';

/** Rows as the database holds them. */
export interface JobRow {
  id: number;
  version: number;
  case_id: string;
  label: string;
  device_class: DeviceClass;
  model: string;
  serial: string;
  profile: string | null;
  profile_version: number;
  expect: Expect;
  complaint: string;
  complaint_kind: ComplaintKind | null;
  intake: Intake;
  stage: Stage;
  due_at: Date | null;
  waiting_for: string | null;
  waiting_until: Date | null;
  technician: string;
  opened_at: Date | null;
  outcome_grade: NonNullable<Case['outcome']>['grade'] | null;
  outcome_circuit: CircuitId | null;
  outcome_target: string;
  outcome_fix: string;
  outcome_extra: Extra | null;
  /** What was not shown when it was closed, in words. */
  outcome_open: string[];
  /** When it is to be looked at again; a date without a time. */
  recall_at: Date | null;
  closed_at: Date | null;
  extra: { case?: Extra; device?: Extra };
  is_sample: boolean;
  deleted_at: Date | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id?: number | null;
  updated_at: Date;
}

export const stages = ['look', 'record', 'call', 'isolate', 'measure', 'locate', 'act', 'verify', 'close'] as const;
export type Stage = (typeof stages)[number];

export interface RunRow {
  id: number;
  job_id: number;
  version: number;
  run_key: string;
  feed: Feed;
  quantity: RunQuantity;
  instrument: Instrument;
  setup: Setup;
  markers: Marker[];
  contract: Contract | null;
  after_action: string | null;
  typed: string | null;
  file_name: string | null;
  limit_spans: Span[];
  repairs: string[];
  warnings: string[];
  summary: Summary;
  shape: Shape;
  preview: Preview;
  engine: string;
  started_at: Date | null;
  extra: Extra | null;
  deleted_at: Date | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id?: number | null;
}

export interface CheckRow {
  id: number;
  check_id: string;
  outcome: string | null;
  note: string;
  where: string;
  circuit: CircuitId | null;
  rail: string;
  after_action: string | null;
  extra: Extra | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id?: number | null;
}

export interface ReadingRow {
  id: number;
  where: string;
  circuit: CircuitId | null;
  state: Reading['state'];
  prompted: boolean | null;
  mode: Reading['mode'];
  value: number | null;
  unit: 'V' | 'ohm';
  ol: boolean;
  reference: number | null;
  red_probe: Reading['redProbe'];
  powered: boolean | null;
  across: boolean;
  swing: Swing | null;
  feed: Reading['feed'];
  shown_ohm: number | null;
  leads_ohm: number | null;
  after_action: string | null;
  extra: Extra | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id?: number | null;
}

export interface ActionRow {
  id: number;
  action_key: string;
  kind: Action['kind'];
  circuit: CircuitId | null;
  target: string;
  note: string;
  run_before: string | null;
  undoes: string | null;
  extra: Extra | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id?: number | null;
}

export interface InjectionRow {
  id: number;
  injection_key: string;
  rail: string;
  circuit: CircuitId | null;
  set_v: number;
  limit_a: number | null;
  amps: number | null;
  leads_ohm: number | null;
  hot: string | null;
  hot_circuit: CircuitId | null;
  heat: Injection['heat'];
  reference_a: number | null;
  note: string;
  after_action: string | null;
  extra: Extra | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id?: number | null;
}

export interface AssessmentRow {
  id: number;
  job_id: number;
  engine: string;
  inputs_hash: string;
  reason: string;
  result: Assessment;
  profile: string | null;
  profile_version: number | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id?: number | null;
}

/** Keys kept from a package, only where there are any. */
const kept = (extra: Extra | null | undefined): { extra?: Extra } => (extra ? { extra } : {});

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
    ...kept(row.extra),
  };
}

export function checkOf(row: CheckRow): Check {
  const { outcome, note, where, circuit, rail } = row;
  return { id: row.check_id, outcome, note, where, circuit, rail, after: row.after_action, ...kept(row.extra) };
}

export function readingOf(row: ReadingRow): Reading {
  const { where, circuit, state, prompted, mode, value, unit, ol, reference, powered, across, swing, feed } = row;
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
    across,
    swing,
    feed,
    shownOhm: row.shown_ohm,
    leadsOhm: row.leads_ohm,
    after: row.after_action,
    ...kept(row.extra),
  };
}

export function actionOf(row: ActionRow): Action {
  const { kind, circuit, target, note } = row;
  const { run_before: runBefore, undoes } = row;
  return { id: row.action_key, kind, circuit, target, note, runBefore, undoes, ...kept(row.extra) };
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
    ...kept(row.extra),
  };
}

export interface ProofRow {
  id: number;
  protocol: string;
  step: string;
  /** Null while a time runs. */
  result: Proof['result'] | null;
  reason: string;
  run_key: string | null;
  check_id: string | null;
  after_action: string | null;
  started_at: Date | null;
  due_at: Date | null;
  extra: Extra | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id?: number | null;
}

/** A proof as the engine knows it; a time that still runs is none yet. */
export function proofOf(row: ProofRow): Proof | null {
  const { protocol, step, result, reason, run_key: run, check_id: check, after_action: after } = row;
  if (result === null) return null;
  return { id: `p${row.id}`, protocol, step, result, reason, run, check, after, ...kept(row.extra) };
}

export interface JobContent {
  job: JobRow;
  runs: RunRow[];
  checks: CheckRow[];
  readings: ReadingRow[];
  injections: InjectionRow[];
  actions: ActionRow[];
  proofs: ProofRow[];
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
export function caseOf({ job, runs, checks, readings, injections, actions, proofs }: JobContent): Case {
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
