import type { Feed } from '../catalogue/index.ts';
import type { ComplaintKind, DeviceClass } from '../catalogue/index.ts';
import type { Proof } from '../case/index.ts';
import table from './protocols.json';

/** How a step is shown: by a recorded run, by looking or trying, by a time that passes, by two voltages of the battery. */
type StepKind = 'run' | 'look' | 'timer' | 'rise';

/** What a run must be, to prove a step, and what it must show. */
interface RunDemand {
  /** Feeds it may be made on; any where left out. */
  feeds?: Feed[];
  /** Made in the setup of the first run. */
  like?: 'first';
  /** How the device stood; any where left out. */
  deviceStates?: ('off' | 'asleep')[];
  /** Made without a press. */
  unprompted?: true;
  /** A full start, or what a healthy device shows in its setup. */
  shows?: 'start' | 'healthy';
  /** A bound on its current: what charging needs at least, what a device that is off or asleep takes at most. */
  limit?: 'charge' | 'off' | 'asleep';
  /** Recorded for so long at least: a line typed without times shows no minutes. */
  minMinutes?: number;
  /** Without a restart and without drifting. */
  steady?: true;
}

export interface StepDefinition {
  id: string;
  by: StepKind;
  says: string;
  /** One such step for every port and side of the plug, or for every function of the kind of device. */
  each?: 'port' | 'function';
  run?: RunDemand;
  /** `timer`: how long it takes. */
  waitMinutes?: number;
}

export interface ProtocolDefinition {
  id: string;
  name: string;
  /** Hands-on minutes. */
  minutes: number;
  /** Of the workmanship alone: it tells a customer nothing. */
  inHouse?: boolean;
  when: {
    complaints?: ComplaintKind[];
    battery?: boolean;
    /** A pack is in. */
    pack?: true;
    /** The device is together, and no bare board on the mat. */
    assembled?: true;
    feeds?: Feed[];
    notFeeds?: Feed[];
    liquid?: boolean;
    needs?: 'not-shown:normal-start' | 'first-setup-not-repeated' | 'unexplained' | 'left-off' | 'fitted';
  };
  says: string;
  proves: string;
  steps: StepDefinition[];
}

/** Every protocol there is, in the order in which it is worked through. */
export const protocols = table.protocols as ProtocolDefinition[];

/** A function that a user of the device has, to be tried; some are checks of the guide at the same time. */
export interface DeviceFunction {
  id: string;
  says: string;
  check?: { id: string; pass: string; fail: string };
}

/** One step of a protocol for one device, and whether it was shown. */
export interface Step {
  protocol: string;
  id: string;
  by: StepKind;
  says: string;
  run: RunDemand | null;
  /** Port and side of the plug that a run must be made at; null where any will do. */
  at: { port: number; flipped: boolean } | null;
  waitMinutes: number | null;
  /** What it needs to pass, as a sentence; empty where looking is enough. */
  needs: string;
  check: DeviceFunction['check'] | null;
  /** What was shown since the last change, or said of it; null while it is open. */
  result: Proof['result'] | null;
  /** What was seen, in words; empty while it is open. */
  because: string;
  /** The run that shows it; null where none does. */
  shownBy: string | null;
  /** True where somebody said so, false where a run or a check shows it by itself. */
  isSaid: boolean;
}

/** Functions to be tried by kind of device, where a shop has lists of its own. Each entry in words. */
export type FunctionLists = Partial<Record<DeviceClass, readonly string[]>>;
