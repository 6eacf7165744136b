import type { Circumstances } from './setup.ts';
import settings from './settings.json';
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
  /** What a stage or the press waited for and never got: ids of rails and parts. */
  waitsFor: string[];
  /** Rails that stood and were lost under a later stage: ids. */
  lost: string[];
  contractV: number;
  /** A start-up that would have gone on for ever was cut off here. */
  cutOff: boolean;
}

/**
 * The stretch from `t0` to `t1` in which the board rests at a solution.
 *
 * @param kind what the caller knows better than the solution; null for what follows from it
 * @param limitA bursts never go beyond it
 */
export function segmentOf(
  t0: number,
  t1: number,
  s: Solution,
  stage: number,
  contractV: number,
  kind: TwinSegment['kind'] | null,
  limitA: number,
): TwinSegment {
  const { pulsing } = s;
  const off = kind === 'off';
  const busy = !pulsing && !off && s.mode === 'cv' && s.burstA > settings.busyShare * s.feedA;
  const volts = off && s.mode !== 'off' ? 0 : s.feedV;
  const lowA = pulsing ? pulsing.lowA : off ? 0 : s.feedA;
  const highA = pulsing ? pulsing.highA : busy ? Math.min(lowA + s.burstA, limitA) : lowA;
  const busyShare = pulsing ? pulsing.duty : settings.busyTime;
  const plain = off ? 'off' : s.mode === 'cc' ? 'limit' : 'level';
  // One literal with all keys: this runs for every stretch of every hypothesis.
  return {
    t0,
    t1,
    kind: pulsing ? 'pulses' : busy ? 'bursts' : kind === null || kind === 'pulses' ? plain : kind,
    meanA: lowA + busyShare * (highA - lowA),
    highA,
    lowA,
    periodS: pulsing ? pulsing.periodS : null,
    duty: pulsing ? pulsing.duty : null,
    volts,
    lowV: volts,
    stage,
    contractV,
    railV: s.railV,
    solution: s,
  };
}
