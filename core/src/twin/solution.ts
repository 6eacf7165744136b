import type { Board } from './board.ts';
import settings from './settings.json';

/** What faults and setup have made of the board: constant over one start-up. */
export interface Condition {
  /** Conductance to ground on every rail, siemens. */
  groundS: number[];
  converterDead: number[];
  /** Share of the limit that is left. */
  converterShare: number[];
  /** Period of one that starts and stops; 0 where it does not. */
  cyclingS: number[];
  partMute: number[];
  loadAbsent: number[];
  /** Series resistance between the feed and the rail it enters, ohms; Infinity where it is open. */
  contactOhm: number;
  /** The source waits for the device before it gives a voltage (USB-C). */
  hotPlug: boolean;
  /** Rail that the measured feed enters, and its source. */
  feedRail: number;
  setV: number;
  limitA: number;
  /** Battery in the device, where it is not itself the feed: rail or -1. */
  batteryRail: number;
  batteryV: number;
  batteryOhm: number;
  /** Greatest charge current into the pack, as a share of the full rate; 0 where it does not charge. */
  chargeShare: number;
}

export interface Pulsing {
  highA: number;
  lowA: number;
  periodS: number;
  duty: number;
}

/** The board at rest at one instant: volts and amperes. */
export interface Solution {
  railV: number[];
  railA: number[];
  /** Output current, input current, and state of every converter. */
  outA: number[];
  inA: number[];
  feedA: number;
  feedV: number;
  mode: 'cv' | 'cc' | 'off';
  batteryA: number;
  chargeA: number;
  pulsing: Pulsing | null;
  /** The source cannot hold the device up: it sags, the device lets go, and it comes back. */
  sags: boolean;
  overloaded: number[];
  burstA: number;
}

/** A rail counts as standing from this share of its nominal voltage on. */
export const goodShare = settings.goodShare;

/** Room for one solution, used again and again: a start-up asks for dozens. */
export interface Workspace {
  source: number[];
  flag: number[];
  /** Converters that run at the moment. */
  live: number[];
  railV: number[];
  railA: number[];
  outA: number[];
  inA: number[];
}

/** Plain arrays: typed ones of this size cost more to make than to fill. */
export const filled = (length: number, value: number): number[] => new Array<number>(length).fill(value);

/**
 * Room in which a board is solved again and again without taking memory.
 *
 * @param board its rails and converters set the size
 */
export function makeWorkspace(board: Board): Workspace {
  const [rails, converters] = [board.profile.rails.length, board.profile.converters.length];
  return {
    source: filled(rails, 0),
    flag: filled(converters, 0),
    live: filled(converters, 0),
    railV: filled(rails, 0),
    railA: filled(rails, 0),
    outA: filled(converters, 0),
    inA: filled(converters, 0),
  };
}
