import type {
  Action,
  Assessment,
  Case,
  Check,
  CircuitId,
  ComplaintKind,
  Device,
  DeviceClass,
  Expect,
  Extra,
  Feed,
  Intake,
  Marker,
  Reading,
  Run,
  RunQuantity,
  Setup,
  Shape,
  Span,
  Instrument,
  Summary,
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
  closed_at: Date | null;
  extra: { case?: Extra; device?: Extra };
  is_sample: boolean;
  deleted_at: Date | null;
  created_at: Date;
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
}

export interface CheckRow {
  id: number;
  check_id: string;
  outcome: string | null;
  note: string;
  extra: Extra | null;
  created_at: Date;
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
  extra: Extra | null;
  created_at: Date;
}

export interface ActionRow {
  id: number;
  action_key: string;
  kind: Action['kind'];
  circuit: CircuitId | null;
  target: string;
  note: string;
  run_before: string | null;
  extra: Extra | null;
  created_at: Date;
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
    after: row.after_action,
    ...kept(row.extra),
  };
}

export function checkOf(row: CheckRow): Check {
  return { id: row.check_id, outcome: row.outcome, note: row.note, ...kept(row.extra) };
}

export function readingOf(row: ReadingRow): Reading {
  const { where, circuit, state, prompted, mode, value, unit, ol, reference, powered } = row;
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
    ...kept(row.extra),
  };
}

export function actionOf(row: ActionRow): Action {
  const { kind, circuit, target, note } = row;
  return { id: row.action_key, kind, circuit, target, note, runBefore: row.run_before, ...kept(row.extra) };
}

export interface JobContent {
  job: JobRow;
  runs: RunRow[];
  checks: CheckRow[];
  readings: ReadingRow[];
  actions: ActionRow[];
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
export function caseOf({ job, runs, checks, readings, actions }: JobContent): Case {
  return {
    id: job.case_id || `job-${job.id}`,
    device: deviceOfRow(job),
    complaint: job.complaint,
    complaintKind: job.complaint_kind,
    intake: job.intake,
    runs: runs.map(runOf),
    checks: checks.map(checkOf),
    readings: readings.map(readingOf),
    actions: actions.map(actionOf),
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
