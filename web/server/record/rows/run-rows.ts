import type {
  Contract,
  Extra,
  Feed,
  Instrument,
  Marker,
  ProbePhase,
  Profile,
  ReadingMode,
  RunQuantity,
  Setup,
  Shape,
  Span,
  Summary,
} from '@umbral/core';
import type { SetTo } from '@umbral/instruments';

/** What is drawn of a run: even stretches of time with least, mean and greatest current, and the mean voltage. */
export interface Preview {
  t0: number;
  t1: number;
  low: (number | null)[];
  mean: (number | null)[];
  high: (number | null)[];
  volts: (number | null)[];
}

/** Rows of runs, recordings, what healthy devices of a model draw, and their profiles. A column is here as it is in the database, which `tables.test.ts` holds against the migrations. */

export interface RunRow {
  id: number;
  job_id: number;
  /** When it was done; null where nobody said. */
  done_at: Date | null;
  /** Why it counts for nothing; null for what counts. */
  void_why: string | null;
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
  /** When its samples went, by the shop's rule; its picture, figures and shape stay. */
  samples_dropped_at: Date | null;
  /** Since when it is kept here, by the database's own clock. */
  kept_since: Date;
  contract: Contract | null;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
}

/** A block of samples, with the least, greatest and mean current in it. */
interface BlockRow {
  seq: number;
  rows: number;
  t0: number;
  t1: number;
  min_a: number | null;
  max_a: number | null;
  mean_a: number | null;
  samples: Buffer;
}

export interface RunChunkRow extends BlockRow {
  run_id: number;
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
  /** What the supply said that it was set to, from each of these times on. Volts, amperes, seconds since the beginning. */
  set_to: SetTo[];
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

export interface RecordingChunkRow extends BlockRow {
  recording_id: number;
}

export interface ReferenceRunRow {
  id: number;
  run_id: number;
  profile_id: string;
  created_at: Date;
  /** Who entered it; null for what was there before anybody signed in. */
  person_id: number | null;
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
