/** How far a device is opened, from 0 to 5, and what can go wrong there. */
export const depths = [
  { name: 'nothing opened', risk: 'no risk' },
  { name: 'cover off', risk: 'clips and flexes can tear' },
  { name: 'unplugging inside', risk: 'connectors can tear; battery off first' },
  { name: 'board out, probing', risk: 'a probe can slip and short; battery off first' },
  { name: 'heat or shields off', risk: 'burns and fumes; parts can burst' },
  { name: 'stack split or chip off', risk: 'cannot be undone' },
] as const;

/** Everything that is said of a check beside when it fits (`observation/check-applies`) and what its outcomes mean (`observation/checks.json`). */
/** Depths that something other than a check reaches. */
export const depthOf = { plugPulled: 2, boardOut: 3, heated: 4 } as const;

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
  },
  'flipped-plug': {
    name: 'Flip the plug',
    ask: 'Does the plug read the same flipped?',
    outcomes: ['same', 'different'],
    depth: 0,
    minutes: 1,
  },
  'known-good-charger': {
    name: 'Use a known-good charger and cable',
    ask: 'Does a known-good charger read the same?',
    outcomes: ['same', 'different'],
    depth: 0,
    minutes: 1,
    risk: 'no risk; not with a swollen cell',
  },
  'charge-indicator': {
    name: 'Look at the charge indicator',
    ask: 'Is the charge indicator lit?',
    outcomes: ['on', 'off', 'none-fitted'],
    notFitted: 'none-fitted',
    depth: 0,
    minutes: 1,
  },
  'press-response': {
    name: 'Watch the draw while pressing power',
    ask: 'What does the draw do on a press?',
    outcomes: ['none', 'small', 'surge', 'start'],
    depth: 0,
    minutes: 1,
  },
  screen: {
    name: 'Look at the screen',
    ask: 'What does the screen show?',
    outcomes: ['dark', 'backlight-only', 'logo', 'logo-loop', 'image'],
    depth: 0,
    minutes: 1,
  },
  fan: {
    name: 'Watch the fan',
    ask: 'What does the fan do?',
    outcomes: ['none', 'twitch', 'spins', 'no-fan'],
    notFitted: 'no-fan',
    depth: 0,
    minutes: 1,
  },
  'host-detects': {
    name: 'Plug it into a computer',
    ask: 'What does a computer see?',
    outcomes: ['nothing', 'recovery', 'normal'],
    depth: 0,
    minutes: 2,
  },
  charges: {
    name: 'See whether it charges',
    ask: 'Does it charge?',
    outcomes: ['yes', 'slow', 'no'],
    depth: 0,
    minutes: 3,
  },
  'usb-wakes': {
    name: 'See whether plugging in wakes it',
    ask: 'Does plugging a charger start it?',
    outcomes: ['yes', 'no'],
    depth: 0,
    minutes: 1,
  },
  'battery-disconnected': {
    name: 'Repeat with the battery disconnected',
    ask: 'With the battery disconnected?',
    outcomes: ['same', 'changed', 'recovers'],
    depth: 1,
    minutes: 3,
  },
  'known-good-display': {
    name: 'Attach a known-good display',
    ask: 'Does a known-good display show a picture?',
    outcomes: ['image', 'no-image'],
    depth: 1,
    minutes: 4,
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
    ask: 'With the peripherals unplugged?',
    outcomes: ['same', 'changed', 'recovers'],
    depth: 2,
    minutes: 5,
  },
  visual: {
    name: 'Look at the board',
    ask: 'What does the board look like?',
    outcomes: ['clean', 'residue', 'corrosion', 'burnt', 'cracked', 'rework', 'swollen'],
    depth: 1,
    minutes: 5,
  },
  'main-rail-resistance': {
    name: 'Measure the main rail to ground',
    ask: 'How does the main rail read to ground?',
    outcomes: ['normal', 'low', 'short'],
    depth: 3,
    minutes: 3,
  },
  'rail-voltages': {
    name: 'Measure the rails in order',
    ask: 'Enter them as readings',
    outcomes: [],
    depth: 3,
    minutes: 10,
  },
  'diode-readings': {
    name: 'Take diode-mode readings',
    ask: 'Enter them as readings',
    outcomes: [],
    depth: 3,
    minutes: 10,
  },
  'heat-view': {
    name: 'Look for heat',
    ask: 'Where does it warm?',
    outcomes: ['none', 'leads-only', 'uniform', 'one-spot', 'several-spots'],
    depth: 4,
    minutes: 5,
  },
  inject: {
    name: 'Inject a safe voltage',
    ask: 'Record plan and result as a note',
    outcomes: [],
    depth: 4,
    minutes: 10,
    risk: 'parts can burst: eye protection, limit set, hand on the off key',
  },
  'halves-apart': {
    name: 'Split the boards and power each half',
    ask: 'What do the halves do apart?',
    outcomes: ['upper-starts', 'lower-draws', 'both-draw', 'both-fine'],
    depth: 5,
    minutes: 40,
  },
  'firmware-reload': {
    name: 'Reload the firmware',
    ask: 'Did reloading cure it?',
    outcomes: ['fixed', 'no-change'],
    depth: 5,
    minutes: 30,
  },
} as const satisfies Readonly<Record<string, CheckDefinition>>;

export type CheckId = keyof typeof catalogue;
export const checkTypes: Readonly<Record<CheckId, CheckDefinition>> = catalogue;
export const checkIds = Object.keys(catalogue) as CheckId[];

/** True for an id of the catalogue; inherited names such as `constructor` are not. */
export function isCheck(id: string): id is CheckId {
  return Object.hasOwn(catalogue, id);
}

/** What can go wrong in a check that is done at a depth. */
export function riskOf(check: CheckId, depth: number): string {
  return checkTypes[check].risk ?? (depths[depth] ?? depths[0]).risk;
}
