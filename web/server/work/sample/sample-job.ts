import {
  plainCheck,
  type Action,
  type Case,
  type Check,
  type Feed,
  type Injection,
  type Intake,
  type Marker,
  type Outcome,
  type Proof,
  type Reading,
  type Setup,
  type SketchInstrument,
  type Stroke,
  type WaitKind,
} from '@umbral/core';
import type { JobStage } from '@umbral/core';
import type { models } from './models.ts';

/** A run of the sample fleet: typed, or drawn from strokes through an instrument. */
export interface SampleRun {
  typed?: string;
  feed?: Feed;
  strokes?: Stroke[];
  instrument?: SketchInstrument;
  setup?: Partial<Setup>;
  markers?: Marker[];
  quantity?: 'voltage-only';
  after?: string;
}

export interface SampleJob {
  label: string;
  serial: string;
  model: keyof typeof models;
  complaint: string;
  complaintKind: NonNullable<Case['complaintKind']>;
  intake?: Partial<Intake>;
  stage: JobStage;
  runs: SampleRun[];
  checks?: Check[];
  readings?: (Partial<Reading> & Pick<Reading, 'where' | 'mode' | 'value'>)[];
  injections?: Injection[];
  actions?: Action[];
  proofs?: Proof[];
  outcome?: Outcome;
  /** Days from now until it is to be looked at again. */
  recallInDays?: number;
  /** Days before now that it came in, days until it is due. */
  daysAgo: number;
  dueInDays?: number;
  /** What it waits for, since when and for how many more hours; until somebody says so where that is left out. */
  waits?: { kind: WaitKind; sinceHours?: number; hours?: number };
  technician: string;
}

export const check = (id: string, outcome: string, note = '', at: Partial<Check> = {}): Check => ({
  ...plainCheck,
  id,
  outcome,
  note,
  ...at,
});
export const on = (t: number): Marker => ({ t, event: 'output-on' });
export const press = (t: number): Marker => ({ t, event: 'prompt' });
export const bench = (setV: number, limitA: number): Partial<Setup> => ({
  setV,
  limitA,
  battery: 'disconnected',
  display: 'connected',
  assembly: 'assembled',
});
export const quiet = (seconds: number, amps = 0.002): Stroke => ({ seconds, amps });
export const start = (peak: number, idle: number): Stroke[] => [
  { seconds: 0.4, amps: 0.06 * peak },
  { seconds: 0.8, amps: 0.2 * peak },
  { seconds: 9, amps: 0.35 * peak, burstTo: peak, burstS: 0.35 },
  { seconds: 8, amps: 0.7 * idle, burstTo: 1.5 * idle, burstS: 0.6 },
];
