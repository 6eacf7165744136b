import type {
  ActionKind,
  Assessment,
  Case,
  CheckSetup,
  checkFields,
  CircuitId,
  ColumnsOf,
  ComplaintKind,
  DeviceClass,
  Expect,
  Extra,
  injectionFields,
  Intake,
  JobStage,
  OutcomeGrade,
  Proof,
  proofFields,
  readingFields,
} from '@umbral/core';

/** Rows of a job and of everything entered for it. A column is here as it is in the database, which `tables.test.ts` holds against the migrations. */

export interface JobRow {
  id: number;
  version: number;
  /** How many changes its verdict has to know, and how many it knows: one is due where they differ. */
  changes: number;
  changes_judged: number;
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
  technician: string;
  opened_at: Date | null;
  outcome_grade: OutcomeGrade | null;
  outcome_circuit: CircuitId | null;
  outcome_target: string;
  outcome_fix: string;
  outcome_extra: Extra | null;
  closed_at: Date | null;
  /** Since when it is closed, by the database's own clock. */
  closed_since: Date | null;
  extra: { case?: Extra; device?: Extra };
  is_sample: boolean;
  deleted_at: Date | null;
  created_at: Date;
  updated_at: Date;
  profile_version: number;
  outcome_open: string[];
  recall_at: Date | null;
  /** Told to the customer; null for nothing. */
  promised_at: Date | null;
  /** Agreed or quoted, in the shop's money; null for the usual one. */
  fee: number | null;
  /** When the customer agreed to the fee. */
  agreed_at: Date | null;
  /** It is only the data that is wanted now. */
  data_only: boolean;
  /** A unit that somebody practises on; none of the shop's jobs. */
  is_practice: boolean;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface OpeningRow {
  job_id: number;
  assessment_id: number;
  reason: string;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface OnLeadsRow {
  instrument_key: string;
  job_id: number;
  since: Date;
}

export interface ActionRow {
  id: number;
  job_id: number;
  /** When it was done; null where nobody said. */
  done_at: Date | null;
  /** Why it counts for nothing; null for what counts. */
  void_why: string | null;
  action_key: string;
  kind: ActionKind;
  circuit: CircuitId | null;
  target: string;
  note: string;
  run_before: string | null;
  extra: Extra | null;
  created_at: Date;
  undoes: string | null;
  /** Entered by mistake. */
  deleted_at: Date | null;
  /** Not done yet. */
  planned: boolean;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

/** Steps of correcting a job, with what stood there before. */
export interface CorrectionRow {
  id: number;
  job_id: number;
  what: string;
  touched: Touched[];
  undoes: number | null;
  undone_at: Date | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

/** Tables of what is entered in a job. */
export type EntryTable = 'runs' | 'checks' | 'readings' | 'injections' | 'proofs' | 'actions' | 'place_names';

/** A row that a step touched: what its columns held before, null for one that is new. */
export interface Touched {
  table: EntryTable;
  id: number;
  before: Record<string, unknown> | null;
}

/** What a call was made from, beside the samples of its runs. */
export interface CallInputs {
  value: Case;
  /** Runs by their key, as they were then. */
  runs: string[];
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
  /** What it was made from; null in calls of older versions. */
  inputs: CallInputs | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

/** What every entry of a job bears beside what it says. */
interface EntryRow {
  id: number;
  job_id: number;
  /** When it was done; null where nobody said. */
  done_at: Date | null;
  /** Why it counts for nothing; null for what counts. */
  void_why: string | null;
  extra: Extra | null;
  deleted_at: Date | null;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

export interface CheckRow extends EntryRow, ColumnsOf<typeof checkFields> {
  setup: CheckSetup | null;
}

export interface ReadingRow extends EntryRow, ColumnsOf<typeof readingFields> {}

/** The circuit of a place, as somebody found it out later; the newest of a place holds. */
export interface PlaceNameRow {
  id: number;
  job_id: number;
  where: string;
  circuit: CircuitId | null;
  same: string[];
  net: number | null;
  deleted_at: Date | null;
  created_at: Date;
  person_id: number | null;
}

export interface InjectionRow extends EntryRow, ColumnsOf<typeof injectionFields> {
  note: string;
}

export interface ProofRow extends EntryRow, Omit<ColumnsOf<typeof proofFields>, 'id' | 'result'> {
  /** Null while its time runs. */
  result: Proof['result'] | null;
  started_at: Date | null;
  due_at: Date | null;
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
