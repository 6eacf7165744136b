import type {
  ActionKind,
  Assessment,
  CalibratedQuantity,
  CalibrationPoint,
  CircuitId,
  ComplaintKind,
  Contract,
  DeviceClass,
  Expect,
  Extra,
  Feed,
  Injection,
  Instrument,
  Intake,
  JobStage,
  Marker,
  OutcomeGrade,
  ProbePhase,
  Profile,
  Proof,
  RailState,
  ReadingMode,
  RunQuantity,
  Setup,
  Shape,
  Span,
  Summary,
  Swing,
} from '@umbral/core';
import type { RecorderHealth, StationState } from '@umbral/instruments';
import type { InstrumentSpec } from '@umbral/instruments/spec';
import type { Knex } from 'knex';
import type { Preview } from './analysis/protocol.ts';
import type { Role } from './people/actor.ts';

/** Rows as the database holds them: a column is here as it is there, which `tables.test.ts` holds against the migrations. */

export interface ActionRow {
  id: number;
  job_id: number;
  action_key: string;
  kind: ActionKind;
  circuit: CircuitId | null;
  target: string;
  note: string;
  run_before: string | null;
  extra: Extra | null;
  created_at: Date;
  undoes: string | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface AssessmentRow {
  id: number;
  job_id: number;
  engine: string;
  inputs_hash: string;
  reason: string;
  result: Assessment;
  created_at: Date;
  profile: string | null;
  profile_version: number | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

/** A place on a picture with what is there: shares of width and height, from the upper left. */
export interface PicturePoint {
  x: number;
  y: number;
  says: string;
}

export interface AttachmentRow {
  id: number;
  job_id: number;
  of_kind: 'job' | 'run' | 'reading' | 'action' | 'check';
  of_id: number | null;
  caption: string;
  width: number;
  height: number;
  image: Buffer;
  thumb: Buffer;
  deleted_at: Date | null;
  created_at: Date;
  point: PicturePoint | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface AuditRow {
  id: number;
  job_id: number | null;
  what: string;
  detail: Record<string, unknown>;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
  event_key: string | null;
}

export interface BackupRow {
  id: number;
  made_at: Date;
  file: string;
  bytes: string;
  sha256: string;
}

export interface BenchRow {
  id: number;
  key: string;
  name: string;
  token_id: number | null;
  state: StationState[] | null;
  health: RecorderHealth | null;
  lease: string | null;
  clock_off_s: number | null;
  seen_at: Date | null;
  created_at: Date;
}

export interface CalibrationRow {
  id: number;
  instrument_key: string;
  quantity: CalibratedQuantity;
  points: CalibrationPoint[];
  gain: number;
  offset: number;
  against: string;
  technician: string;
  made_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface CheckRow {
  id: number;
  job_id: number;
  check_id: string;
  outcome: string | null;
  note: string;
  extra: Extra | null;
  deleted_at: Date | null;
  created_at: Date;
  where: string;
  circuit: CircuitId | null;
  rail: string;
  after_action: string | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface FirmwareDumpRow {
  id: number;
  job_id: number;
  name: string;
  sha256: string;
  size: number;
  content: Buffer;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface InjectionRow {
  id: number;
  job_id: number;
  injection_key: string;
  rail: string;
  circuit: CircuitId | null;
  set_v: number;
  limit_a: number | null;
  amps: number | null;
  leads_ohm: number | null;
  hot: string | null;
  hot_circuit: CircuitId | null;
  heat: NonNullable<Injection['heat']> | null;
  reference_a: number | null;
  note: string;
  after_action: string | null;
  extra: Extra | null;
  deleted_at: Date | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface InstrumentRow {
  id: number;
  key: string;
  version: number;
  spec: InstrumentSpec;
  created_at: Date;
  updated_at: Date;
  bench_id: number | null;
}

export interface JobRow {
  id: number;
  version: number;
  case_id: string;
  label: string;
  device_class: DeviceClass;
  model: string;
  serial: string;
  profile: string | null;
  expect: Expect;
  complaint: string;
  complaint_kind: ComplaintKind | null;
  intake: Intake;
  stage: JobStage;
  due_at: Date | null;
  waiting_for: string | null;
  waiting_until: Date | null;
  technician: string;
  opened_at: Date | null;
  outcome_grade: OutcomeGrade | null;
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
  profile_version: number;
  outcome_open: string[];
  recall_at: Date | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface OnLeadsRow {
  instrument_key: string;
  job_id: number;
  since: Date;
}

export interface OpeningRow {
  job_id: number;
  assessment_id: number;
  reason: string;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface PersonRow {
  id: number;
  name: string;
  role: Role;
  password_hash: string | null;
  pin_hash: string | null;
  failures: number;
  locked_until: Date | null;
  is_demo: boolean;
  disabled_at: Date | null;
  version: number;
  created_at: Date;
}

export interface PresenceRow {
  job_id: number;
  tab: string;
  person_id: number;
  field: string;
  seen_at: Date;
}

export interface ProfileRow {
  id: number;
  profile_id: string;
  version: number;
  name: string;
  note: string;
  content: Profile;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface ProofRow {
  id: number;
  job_id: number;
  protocol: string;
  step: string;
  result: NonNullable<Proof['result']> | null;
  reason: string;
  run_key: string | null;
  check_id: string | null;
  after_action: string | null;
  started_at: Date | null;
  due_at: Date | null;
  extra: Extra | null;
  deleted_at: Date | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface ReadingRow {
  id: number;
  job_id: number;
  where: string;
  circuit: CircuitId | null;
  state: RailState | null;
  prompted: boolean | null;
  mode: ReadingMode;
  value: number | null;
  unit: 'V' | 'ohm';
  ol: boolean;
  reference: number | null;
  red_probe: 'ground' | 'point' | null;
  powered: boolean | null;
  extra: Extra | null;
  deleted_at: Date | null;
  created_at: Date;
  across: boolean;
  swing: Swing | null;
  feed: 'usb-c' | 'dc-in' | null;
  shown_ohm: number | null;
  leads_ohm: number | null;
  after_action: string | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface RecordingChunkRow {
  recording_id: number;
  seq: number;
  rows: number;
  t0: number;
  t1: number;
  min_a: number | null;
  max_a: number | null;
  mean_a: number | null;
  samples: Buffer;
}

export interface RecordingRow {
  id: number;
  job_id: number;
  instrument_key: string;
  state: 'recording' | 'finished' | 'interrupted' | 'kept';
  feed: Feed;
  instrument: Instrument;
  setup: Setup;
  markers: Marker[];
  gaps: (Span & { why: string })[];
  after_action: string | null;
  run_id: number | null;
  problem: string | null;
  started_at: Date;
  ended_at: Date | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
  bench_id: number | null;
  begin_key: string | null;
}

export interface ReferenceReadingRow {
  id: number;
  model_key: string;
  where: string;
  mode: ReadingMode;
  phase: ProbePhase | null;
  red_probe: 'ground' | 'point' | null;
  value: number | null;
  ol: boolean;
  job_id: number | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface ReferenceRunRow {
  id: number;
  run_id: number;
  profile_id: string;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface RunChunkRow {
  run_id: number;
  seq: number;
  rows: number;
  t0: number;
  t1: number;
  min_a: number | null;
  max_a: number | null;
  mean_a: number | null;
  samples: Buffer;
}

export interface RunLevelRow {
  run_id: number;
  level: number;
  seq: number;
  buckets: number;
  t0: number;
  t1: number;
  data: Buffer;
}

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
  contract: Contract | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface SessionRow {
  hash: string;
  person_id: number;
  created_at: Date;
  seen_at: Date;
  expires_at: Date;
  locked_at: Date | null;
}

export interface ShopPolicyRow {
  id: number;
  version: number;
  value: unknown;
  updated_at: Date;
}

export interface SignInCodeRow {
  hash: string;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
  expires_at: Date;
  used_at: Date | null;
}

export interface TokenRow {
  id: number;
  name: string;
  hash: string;
  scopes: string[];
  person_id: number;
  created_at: Date;
  used_at: Date | null;
  revoked_at: Date | null;
}

/** What may be written to a table: columns that there are; a value of more than one part as JSON; an expression. */
export type Written<Row> = {
  [Column in keyof Row]?: Row[Column] | Knex.Raw | (Exclude<Row[Column], null> extends object ? string : never);
};

type Table<Row> = Knex.CompositeTableType<Row, Written<Row>>;

declare module 'knex/types/tables.js' {
  interface Tables {
    actions: Table<ActionRow>;
    assessments: Table<AssessmentRow>;
    attachments: Table<AttachmentRow>;
    audit: Table<AuditRow>;
    backups: Table<BackupRow>;
    benches: Table<BenchRow>;
    calibrations: Table<CalibrationRow>;
    checks: Table<CheckRow>;
    firmware_dumps: Table<FirmwareDumpRow>;
    injections: Table<InjectionRow>;
    instruments: Table<InstrumentRow>;
    jobs: Table<JobRow>;
    on_leads: Table<OnLeadsRow>;
    openings: Table<OpeningRow>;
    people: Table<PersonRow>;
    presence: Table<PresenceRow>;
    profiles: Table<ProfileRow>;
    proofs: Table<ProofRow>;
    readings: Table<ReadingRow>;
    recording_chunks: Table<RecordingChunkRow>;
    recordings: Table<RecordingRow>;
    reference_readings: Table<ReferenceReadingRow>;
    reference_runs: Table<ReferenceRunRow>;
    run_chunks: Table<RunChunkRow>;
    run_levels: Table<RunLevelRow>;
    runs: Table<RunRow>;
    sessions: Table<SessionRow>;
    shop_policy: Table<ShopPolicyRow>;
    sign_in_codes: Table<SignInCodeRow>;
    tokens: Table<TokenRow>;
  }
}
