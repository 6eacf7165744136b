import type { CircuitId } from './circuits.ts';
import type { ComplaintKind } from './jobs.ts';

/** How far a device is opened, from 0 to 5, and what can go wrong there. */
export const depths = [
  { name: 'nothing opened', risk: 'no risk' },
  { name: 'cover off', risk: 'clips and flexes can tear' },
  { name: 'unplugging inside', risk: 'connectors can tear; battery off first' },
  { name: 'board out, probing', risk: 'a probe can slip and short; battery off first' },
  { name: 'heat or shields off', risk: 'burns and fumes; parts can burst' },
  { name: 'stack split or chip off', risk: 'cannot be undone' },
] as const;

/** Depths that something other than a check reaches. */
export const depthOf = { plugPulled: 2, boardOut: 3, heated: 4 } as const;

/** Everything that is said of a check beside when it fits (`observation/check-applies`) and what its outcomes mean (`observation/outcomes.json`). */
interface CheckDefinition {
  /** What to do. */
  name: string;
  /** The question whose answer is one of the outcomes. */
  ask: string;
  /** Empty where the answer is readings rather than a word. */
  outcomes: readonly string[];
  /** The outcome that says that the device has no such thing: it speaks of no fault. */
  notFitted?: string;
  /** Index into {@link depths}. */
  depth: 0 | 1 | 2 | 3 | 4 | 5;
  minutes: number;
  /** What can go wrong, where it is not that of its depth. */
  risk?: string;
  /** Where the work stands once it was done; left out for one that is done before the device is opened. */
  stage?: 'isolate' | 'measure' | 'locate';
  /** It is done at a place of the board. */
  asksPlace?: boolean;
  /** Worth doing also where the question is which element of a circuit it is. */
  tellsElements?: boolean;
  /** Its answer is read by a kind of observation of its own, and not by the table of outcomes. */
  readBy?: 'resistance' | 'heat' | 'look' | 'ladder' | 'halves';
  /** Done without, it reads as if nothing had been changed. */
  isRepeat?: boolean;
  /** Outcomes of a device that does not start: several of them together are hardly more than one. */
  dead?: readonly string[];
  /** Outcomes of a device that runs at least in part, beside those that a good one gives. */
  alive?: readonly string[];
  /**
   * What its outcomes show of a device that is switched on: those that one which does not work cannot give, with what is seen
   * then, those that say it does not work, and those that are on the way to either. Left out for a check without power.
   */
  shows?: { works: Readonly<Record<string, string>>; fails: readonly string[]; onTheWay?: readonly string[] };
  /** A device shows it well although it has this complaint. */
  wellWith?: readonly ComplaintKind[];
  /** Asks what two runs say that differ in one part of the setup: `tried` are its values in the run that something was changed for. */
  compares?: {
    part: 'flipped' | 'battery' | 'display' | 'charger';
    tried: readonly unknown[];
    /** The outcome where the reading stays, is healthy then, or changes otherwise. */
    outcomes: readonly [same: string, healthy: string, changed: string];
    says: { same: string; different: string; healthy: string };
  };
  /** It undoes or swaps what a change to one of these circuits did: its outcomes as what the device did after. */
  afterChange?: { circuits: readonly CircuitId[]; outcomes: Readonly<Record<string, 'recovers' | 'falls' | 'same'>> };
}

/** The checks, from the least to the most that has to be opened. The ids are stable outside Umbral. */
const catalogue = {
  'other-port': {
    name: 'Try the other port',
    ask: 'Does another port read the same?',
    outcomes: ['same', 'different', 'single-port'],
    notFitted: 'single-port',
    depth: 0,
    minutes: 1,
    isRepeat: true,
  },
  'flipped-plug': {
    name: 'Flip the plug',
    ask: 'Does it read the same with the plug flipped?',
    outcomes: ['same', 'different'],
    depth: 0,
    minutes: 1,
    isRepeat: true,
    compares: {
      part: 'flipped',
      tried: [true],
      outcomes: ['same', 'different', 'different'],
      says: {
        same: 'it reads the same with the plug flipped',
        different: 'it reads differently with the plug flipped',
        healthy: 'it reads differently with the plug flipped',
      },
    },
  },
  'known-good-charger': {
    name: 'Use a known-good charger and cable',
    ask: 'Does a known-good charger read the same?',
    outcomes: ['same', 'different'],
    depth: 0,
    minutes: 1,
    risk: 'no risk, but never with a swollen cell',
    isRepeat: true,
    compares: {
      part: 'charger',
      tried: ['known-good'],
      outcomes: ['same', 'different', 'different'],
      says: {
        same: 'a known-good charger reads the same',
        different: 'a known-good charger reads differently',
        healthy: 'a known-good charger reads differently',
      },
    },
  },
  'charge-indicator': {
    name: 'Look at the charge indicator',
    ask: 'Is the charge indicator lit?',
    outcomes: ['on', 'off', 'none-fitted'],
    notFitted: 'none-fitted',
    shows: { works: {}, fails: [], onTheWay: ['on', 'off'] },
    depth: 0,
    minutes: 1,
    wellWith: ['drain', 'intermittent'],
  },
  'press-response': {
    name: 'Watch the draw while pressing power',
    ask: 'What does the draw do when power is pressed?',
    outcomes: ['none', 'small', 'surge', 'start'],
    depth: 0,
    minutes: 1,
    dead: ['none'],
    shows: { works: { start: 'it starts' }, fails: ['none', 'small', 'surge'] },
    wellWith: ['drain', 'slow-charge', 'no-charge', 'intermittent'],
  },
  screen: {
    name: 'Look at the screen',
    ask: 'What does the screen show?',
    outcomes: ['dark', 'backlight-only', 'logo', 'logo-loop', 'image'],
    depth: 0,
    minutes: 1,
    dead: ['dark'],
    shows: {
      works: { image: 'it shows a picture' },
      fails: ['dark', 'backlight-only', 'logo-loop'],
      onTheWay: ['logo'],
    },
    wellWith: ['drain', 'slow-charge', 'no-charge', 'intermittent'],
  },
  fan: {
    name: 'Watch the fan',
    ask: 'What does the fan do?',
    outcomes: ['none', 'twitch', 'spins', 'no-fan'],
    notFitted: 'no-fan',
    depth: 0,
    minutes: 1,
    dead: ['none'],
    alive: ['spins'],
    shows: { works: {}, fails: [], onTheWay: ['twitch', 'spins', 'none'] },
    wellWith: ['drain', 'slow-charge', 'no-charge', 'intermittent'],
  },
  'host-detects': {
    name: 'Plug it into a computer',
    ask: 'What does a computer detect?',
    outcomes: ['nothing', 'recovery', 'normal'],
    depth: 0,
    minutes: 2,
    dead: ['nothing'],
    shows: { works: { normal: 'a computer detects it' }, fails: ['nothing', 'recovery'] },
    wellWith: ['drain', 'slow-charge', 'no-charge', 'intermittent'],
  },
  charges: {
    name: 'Check whether it charges',
    ask: 'Does it charge?',
    outcomes: ['yes', 'slow', 'no'],
    depth: 0,
    minutes: 3,
    shows: { works: { yes: 'it charges' }, fails: ['slow', 'no'] },
    wellWith: ['drain', 'intermittent'],
  },
  'usb-wakes': {
    name: 'Check whether plugging in wakes it',
    ask: 'Does plugging in a charger start it?',
    outcomes: ['yes', 'no'],
    depth: 0,
    minutes: 1,
    dead: ['no'],
    shows: { works: { yes: 'it starts when a charger is plugged in' }, fails: ['no'] },
    wellWith: ['drain', 'slow-charge', 'intermittent'],
  },
  'battery-disconnected': {
    name: 'Repeat with the battery disconnected',
    ask: 'What changes with the battery disconnected?',
    outcomes: ['same', 'changed', 'recovers'],
    depth: 1,
    minutes: 3,
    stage: 'isolate',
    isRepeat: true,
    compares: {
      part: 'battery',
      tried: ['disconnected', 'absent'],
      outcomes: ['same', 'recovers', 'changed'],
      says: {
        same: 'with the battery disconnected nothing changes',
        different: 'with the battery disconnected it reads differently',
        healthy: 'with the battery disconnected it recovers',
      },
    },
    afterChange: { circuits: ['battery.pack'], outcomes: { recovers: 'recovers', changed: 'falls', same: 'same' } },
  },
  'known-good-display': {
    name: 'Connect a known-good display',
    ask: 'Does a known-good display show a picture?',
    outcomes: ['image', 'no-image'],
    depth: 1,
    minutes: 4,
    dead: ['no-image'],
    shows: { works: { image: 'it shows a picture' }, fails: ['no-image'] },
    wellWith: ['drain', 'slow-charge', 'no-charge', 'intermittent'],
    stage: 'isolate',
    isRepeat: true,
    // A picture is not in the current: only a cure counts.
    compares: {
      part: 'display',
      tried: ['known-good'],
      outcomes: ['no-image', 'image', 'no-image'],
      says: {
        same: 'another display changes nothing',
        different: 'another display changes the reading',
        healthy: 'another display changes the reading',
      },
    },
    afterChange: { circuits: ['display'], outcomes: { image: 'recovers', 'no-image': 'same' } },
  },
  'voltage-sweep': {
    name: 'Raise the set voltage a little',
    ask: 'What does the steady current do?',
    outcomes: ['rises', 'flat', 'falls'],
    depth: 1,
    minutes: 2,
    risk: 'stay below the full battery voltage',
  },
  'peripherals-unplugged': {
    name: 'Unplug peripherals one at a time',
    ask: 'What changes with the peripherals unplugged?',
    outcomes: ['same', 'changed', 'recovers'],
    depth: 2,
    minutes: 5,
    stage: 'isolate',
    asksPlace: true,
    isRepeat: true,
    afterChange: {
      circuits: ['periph.board', 'display'],
      outcomes: { recovers: 'recovers', changed: 'falls', same: 'same' },
    },
  },
  visual: {
    name: 'Look at the board',
    ask: 'What does the board look like?',
    outcomes: ['clean', 'residue', 'corrosion', 'burnt', 'cracked', 'rework', 'swollen'],
    depth: 1,
    minutes: 5,
    asksPlace: true,
    tellsElements: true,
    readBy: 'look',
  },
  'main-rail-resistance': {
    name: 'Measure the main rail to ground',
    ask: 'What does the main rail read to ground?',
    outcomes: ['normal', 'low', 'short'],
    depth: 3,
    minutes: 3,
    stage: 'measure',
    asksPlace: true,
    readBy: 'resistance',
  },
  'rail-voltages': {
    name: 'Measure the rails in order',
    ask: 'Enter them as readings',
    outcomes: [],
    depth: 3,
    minutes: 10,
    stage: 'measure',
    readBy: 'ladder',
  },
  'diode-readings': {
    name: 'Take diode-mode readings',
    ask: 'Enter them as readings',
    outcomes: [],
    depth: 3,
    minutes: 10,
    stage: 'measure',
    readBy: 'ladder',
  },
  'heat-view': {
    name: 'Look for heat',
    ask: 'Where does it get warm?',
    outcomes: ['none', 'leads-only', 'uniform', 'one-spot', 'several-spots'],
    depth: 4,
    minutes: 5,
    stage: 'locate',
    asksPlace: true,
    tellsElements: true,
    readBy: 'heat',
  },
  inject: {
    name: 'Inject a safe voltage',
    ask: 'Save the plan and the result as a note',
    outcomes: [],
    depth: 4,
    minutes: 10,
    risk: 'parts can burst: eye protection, limit set, hand on the off key',
    stage: 'locate',
    readBy: 'heat',
  },
  'halves-apart': {
    name: 'Split the boards and power each half',
    ask: 'What does each half do on its own?',
    outcomes: ['upper-starts', 'lower-draws', 'both-draw', 'both-fine'],
    depth: 5,
    minutes: 40,
    stage: 'isolate',
    tellsElements: true,
    readBy: 'halves',
    isRepeat: true,
  },
  'firmware-reload': {
    name: 'Reload the firmware',
    ask: 'Did reloading fix it?',
    outcomes: ['fixed', 'no-change'],
    depth: 5,
    minutes: 30,
    shows: { works: { fixed: 'it works after the reload' }, fails: ['no-change'] },
    afterChange: { circuits: ['firmware'], outcomes: { fixed: 'recovers', 'no-change': 'same' } },
  },
} as const satisfies Readonly<Record<string, CheckDefinition>>;

export type CheckId = keyof typeof catalogue;
export const checkTypes: Readonly<Record<CheckId, CheckDefinition>> = catalogue;
export const checkIds = Object.keys(catalogue) as CheckId[];

/** Checks that something is asked of by name: what they find has code of its own. */
export const namedChecks = {
  look: 'visual',
  heat: 'heat-view',
  inject: 'inject',
  mainRail: 'main-rail-resistance',
  voltages: 'rail-voltages',
  diodes: 'diode-readings',
  halves: 'halves-apart',
  peripherals: 'peripherals-unplugged',
  charger: 'known-good-charger',
  ports: 'other-port',
  plug: 'flipped-plug',
  press: 'press-response',
  screen: 'screen',
  charges: 'charges',
} as const satisfies Readonly<Record<string, CheckId>>;

/** True for an id of the catalogue; inherited names such as `constructor` are not. */
export function isCheck(id: string): id is CheckId {
  return Object.hasOwn(catalogue, id);
}

/** What can go wrong in a check that is done at a depth. */
export function riskOf(check: CheckId, depth: number): string {
  return checkTypes[check].risk ?? (depths[depth] ?? depths[0]).risk;
}
