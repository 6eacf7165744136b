import type { Circumstances } from './condition.ts';
import type { Solution } from './solution.ts';

/** A stretch of a start-up in which nothing changes. Seconds, amperes and volts at the feed. */
export interface TwinSegment {
  t0: number;
  t1: number;
  kind: 'off' | 'level' | 'bursts' | 'pulses' | 'limit';
  meanA: number;
  /** Highest value held within it: the top of pulses or bursts. */
  highA: number;
  lowA: number;
  periodS: number | null;
  duty: number | null;
  volts: number;
  /** Voltage between pulses of the feed itself. */
  lowV: number;
  /** Stage reached, -1 before the first. */
  stage: number;
  contractV: number;
  railV: number[];
  solution: Solution;
}

export interface TwinEvent {
  t: number;
  what:
    | 'output-on'
    | 'plug'
    | 'contract'
    | 'prompt'
    | 'stage'
    | 'waits'
    | 'gives-up'
    | 'sags'
    | 'source-cuts'
    | 'lets-go'
    | 'runs';
  detail: string;
}

/** One virtual start-up. */
export interface StartUp {
  segments: TwinSegment[];
  events: TwinEvent[];
  circumstances: Circumstances;
  /** Highest stage reached, and whether the last one was. */
  stage: number;
  running: boolean;
  restarts: number;
  /** What a stage waited for in vain: ids of rails and parts. */
  waitsFor: string[];
  contractV: number;
  /** A start-up that would have gone on for ever was cut off here. */
  cutOff: boolean;
}
