import type { PatternId } from '../catalogue/index.ts';
import type { Marker, Summary } from '../trace/index.ts';

export type SegmentKind = 'zero' | 'level' | 'ramp' | 'bursts' | 'pulses' | 'limit' | 'gap';

/** A stretch of the run that behaves as one. Seconds, amperes, volts, watts; null where absent or without meaning. */
export interface Segment {
  kind: SegmentKind;
  t0: number;
  t1: number;
  meanA: number | null;
  meanV: number | null;
  watts: number | null;
  /** Robust standard deviation of the current in A. */
  spreadA: number | null;
  periodS: number | null;
  /** Share of the period spent in the upper half, 0 to 1. */
  duty: number | null;
}

export interface PatternProbability {
  id: PatternId;
  p: number;
}

/** What is seen in one run, before anyone says what it means. */
export interface Shape {
  summary: Summary;
  segments: Segment[];
  /** Given and inferred markers in time order. */
  markers: Marker[];
  features: Features;
  warnings: string[];
}

/** Level, spread and behaviour over one phase of the run. Amperes, watts, seconds. */
export interface Phase {
  seconds: number;
  samples: number;
  /** Time-weighted median of the current and of the power; null where nothing was measured. */
  levelA: number | null;
  levelW: number | null;
  /** Highest level held for at least a few samples, and the instant it is reached after the phase began. */
  peakA: number | null;
  peakW: number | null;
  peakAfterS: number | null;
  /** First clear rise over the level before, seconds after the phase began; null where none. */
  riseAfterS: number | null;
  /** The last rise to a new height, seconds after the phase began; null where none. */
  lastStepAfterS: number | null;
  /** The hold at the end: level, how long, how it moves. */
  tailA: number | null;
  tailW: number | null;
  tailSeconds: number;
  tailKind: SegmentKind | null;
  /** Longest stand near the peak of the phase, seconds. */
  topHoldS: number;
  /** Distinct rising steps. */
  steps: number;
  /** How often the level turns round by a fifth or more: a start moves, a freeze is flat. */
  reversals: number;
  limitShare: number;
  burstShare: number;
  zeroShare: number;
  levelShare: number;
  rampShare: number;
  pulses: Pulses | null;
  /** Irregular falls to nothing and back. */
  dropOuts: number;
}

/** A regular repetition. Seconds, amperes; `duty` and `plateau` 0 to 1. */
export interface Pulses {
  t0: number;
  t1: number;
  periodS: number;
  duty: number;
  count: number;
  lowA: number;
  highA: number;
  /** Relative spread of the intervals. */
  jitter: number;
  /** Share of the upper samples that stand at one height: near 1 for a plain on and off, less for a start-up. */
  flatTop: number;
  /** Share of the time in which the value stands still: near 1 for steps, near 0 for a sine. */
  plateau: number | null;
}

export interface VoltageFeatures {
  /** Highest level held, level at the end, share of rows (with a voltage) near nothing. Volts, 0 to 1. */
  highest: number | null;
  tail: number | null;
  absentShare: number;
  /** Seconds for which a voltage stood at all. */
  presentS: number;
  cycles: Pulses | null;
  /** The same of a log that holds only a voltage, over its lowest level: a charge that lets go by the clock. Volts over that level. */
  dips: Pulses | null;
  /** Falls of the voltage to under half and back. */
  collapses: number;
  /** True where the voltage leaves for good before the run ends. */
  lostForGood: boolean;
  /** Seconds for which it was away at the longest before it came back; 0 where it never was. */
  longestAwayS: number;
  /** Lowest level as a share of the highest, after it first rose. */
  sag: number | null;
}

/** Numbers that the pattern is recognised from. */
export interface Features {
  whole: Phase;
  before: Phase | null;
  after: Phase | null;
  /** From where a note says that it was put to sleep or switched off by its button; null where none does. */
  asleep: Phase | null;
  prompted: boolean;
  /** Instant of the first press, seconds; null where there is none. */
  promptT: number | null;
  /** The draw begins high and falls off for a while, as a cold filament does, before it stands. */
  startsHot: boolean;
  promptInferred: boolean;
  /** The source was switched off or unplugged before the run ends: what came until then is all there is to judge. */
  endedOff: boolean;
  /** True where the source was switched on or plugged within the run. */
  onSeen: boolean;
  voltage: VoltageFeatures;
  noiseA: number;
  resolutionA: number;
  intervalS: number;
  limitKnownA: number | null;
  /** Things that contradict each other or physics, in words. */
  contradictions: string[];
  /** Mean power in windows that double after the press, or after the source came on: see `courseWindows`. Watts. */
  course: (number | null)[];
  /** Share of the time that moves smoothly without ever standing, 0 to 1. */
  smoothShare: number;
}
