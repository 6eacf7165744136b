import type { Condition } from './solution.ts';

/** How the device is fed and put together while it starts. Volts, amperes, ohms, seconds. */
export interface TwinSetup {
  feed: 'battery' | 'usb-c' | 'dc-in';
  /** What the source is set to; null for the usual voltage of the feed. Without meaning on USB-C. */
  setV: number | null;
  limitA: number | null;
  /** Leads and connector, in series with the feed. */
  leadOhm: number;
  /** From 1. */
  port: number;
  flipped: boolean;
  /** The device's own battery is connected (on the battery feed the supply stands in its place). */
  battery: boolean;
  batteryV: number | null;
  display: boolean;
  boardAlone: boolean;
  /** Only this half is powered; null for the whole. */
  half: string | null;
  /** Ids of peripherals, loads, converters or parts that are off the board: unplugged or lifted. */
  unplugged: string[];
  /** How the device stood when the run began. */
  state: 'off' | 'asleep' | 'running';
  /** When the source comes on, when power is pressed (null: not at all), and how long the run lasts. */
  onS: number;
  promptS: number | null;
  seconds: number;
}

export const usualSetup: TwinSetup = {
  feed: 'battery',
  setV: null,
  limitA: 3,
  leadOhm: 0.08,
  port: 1,
  flipped: false,
  battery: false,
  batteryV: null,
  display: true,
  boardAlone: false,
  half: null,
  unplugged: [],
  state: 'off',
  onS: 0.5,
  promptS: 4,
  seconds: 20,
};

/** What is constant over a start-up, and what the sequence has to know of the faults. */
export interface Circumstances {
  condition: Condition;
  /** Voltage of the source before any contract; 0 where the feed does not exist on this device. */
  sourceV: number;
  /** Contracts that may be reached, rising. */
  contracts: number[];
  /** Contact or joint that comes and goes. */
  loose: boolean;
  /** Parts that are not there because their half, their peripheral or the display is off. */
  partAbsent: number[];
}
