import { namesOf } from './names.ts';

/** Everything that is said of a pattern beside how it is recognised (`shape`) and what causes it (`observation/patterns.json`). */
interface PatternDefinition {
  /** As people read it. */
  name: string;
  /** What is to be seen, for whoever learns it. */
  explains: string;
  /** What else people call it, in small letters, for whoever searches. */
  alsoCalled?: readonly string[];
  /** What of the run shows it: what stood before the press, or what followed it. */
  phase: 'before' | 'after';
  /** A healthy device shows it in a run that asks this of it; left out for the pattern of a fault. */
  healthyWhen?: 'start' | 'rest' | 'voltage';
  /** Starts of the device itself, whole: a healthy charge is none. */
  isFullStart?: boolean;
  /** It draws what nobody asked for: before the press, or while it should rest. */
  isUnasked?: boolean;
  /** How much it draws before the press tells a leak from a short. */
  tellsSize?: boolean;
  /** In the current limit, whatever the voltage is then. */
  isInLimit?: boolean;
  /** Nothing of the device comes up: there is no screen to look at. */
  isDead?: boolean;
  /** The device starts over and over, or its feed does. */
  startsOver?: boolean;
  /** What pulses may be the feed itself: the voltage goes, and the load follows. */
  mayBeFeed?: boolean;
  /** It comes and goes; whoever types it says a loop, pulses, or a note. */
  repeats?: boolean;
  /** What after the press tells how far it came: the moment of its peak, or of its last step. */
  timedBy?: 'peak' | 'last-step';
  /** The draw stands: a press changes nothing that could be seen. */
  isHold?: boolean;
  /** The draw stands on a level that raising the set voltage moves. */
  followsVoltage?: boolean;
  /** A sound device that nobody pressed may stand there as well. */
  isWaiting?: boolean;
  /** The device did answer a press: its button and wake line work. */
  answersPress?: boolean;
  /** It takes or should take charge. */
  isCharging?: boolean;
  /** The sound that goes with it while it is recorded. */
  cue?: 'started' | 'stalled';
  /** Patterns that a run on any other feed then shows as well, whatever is shorted: the supplies are pulled down. */
  darkens?: readonly string[];
  /** Outcomes of checks that it gives away, with how surely, 0 to 1. Ids of checks. */
  implies?: Readonly<Record<string, readonly [outcome: string, certainty: number]>>;
}

/** The patterns of a run, in the order in which they are listed. The ids are stable outside Umbral. */
const catalogue = {
  'no-draw': {
    name: 'Draws nothing at all',
    explains: 'The current stays at rest, a few milliamperes or nothing, whether you press power or not.',
    alsoCalled: ['dead', 'nothing', 'no current'],
    phase: 'after',
    isDead: true,
    implies: {
      screen: ['dark', 0.95],
      fan: ['none', 0.95],
      'host-detects': ['nothing', 0.9],
      'press-response': ['none', 0.97],
    },
  },
  'limit-at-once': {
    name: 'In current limit from the start',
    explains: 'The supply is in current limit as soon as it is on. Its voltage is lower than you set.',
    alsoCalled: ['short', 'shorted', 'dead short', 'limit'],
    phase: 'before',
    isUnasked: true,
    isInLimit: true,
    isDead: true,
    isHold: true,
    darkens: ['unraised-dark', 'unraised-low', 'no-draw', 'dark-hold'],
    implies: {
      screen: ['dark', 0.97],
      fan: ['none', 0.95],
      'host-detects': ['nothing', 0.95],
      'press-response': ['none', 0.93],
      charges: ['no', 0.9],
      'usb-wakes': ['no', 0.9],
    },
  },
  'draw-before-prompt': {
    name: 'Draws current before power-on',
    explains: 'A steady current flows before power is pressed, below the limit, and the voltage stays up.',
    alsoCalled: ['leak', 'leakage', 'short', 'shorted'],
    phase: 'before',
    isUnasked: true,
    tellsSize: true,
    followsVoltage: true,
  },
  'surge-on-prompt': {
    name: 'Surges at power-on',
    explains: 'Quiet before power-on, then at or near the limit at once.',
    alsoCalled: ['short', 'shorted', 'surge', 'limit'],
    phase: 'after',
    timedBy: 'peak',
    answersPress: true,
    implies: { screen: ['dark', 0.93], 'host-detects': ['nothing', 0.9], 'press-response': ['surge', 0.97] },
  },
  'stall-low': {
    name: 'Wakes briefly, then stops',
    explains: 'It rises a little at power-on and stops there, far below a normal start.',
    alsoCalled: ['stall', 'stuck', 'hang'],
    phase: 'after',
    timedBy: 'last-step',
    answersPress: true,
    cue: 'stalled',
    implies: {
      screen: ['dark', 0.95],
      fan: ['none', 0.85],
      'host-detects': ['nothing', 0.85],
      'press-response': ['small', 0.97],
    },
  },
  'stall-mid': {
    name: 'Starts to boot, then hangs',
    explains: 'It climbs after power-on, then stands at one level and does not move again.',
    alsoCalled: ['stall', 'stuck', 'hang', 'freeze', 'frozen'],
    phase: 'after',
    answersPress: true,
    cue: 'stalled',
    implies: { 'press-response': ['small', 0.6] },
  },
  'restart-loop': {
    name: 'Boot loop',
    explains: 'The same start comes again and again, seconds apart.',
    alsoCalled: ['bootloop', 'loop', 'reset', 'restart', 'reboot'],
    phase: 'after',
    startsOver: true,
    repeats: true,
    answersPress: true,
  },
  hiccup: {
    name: 'Pulses faster than once a second',
    explains: 'Short pulses at an even pace, faster than once a second.',
    alsoCalled: ['pulsing', 'pulse', 'cycling', 'short', 'shorted'],
    phase: 'after',
    startsOver: true,
    mayBeFeed: true,
    repeats: true,
    implies: { screen: ['dark', 0.93], 'host-detects': ['nothing', 0.9] },
  },
  'start-then-off': {
    name: 'Starts, then shuts off',
    explains: 'It climbs as in a start, then falls back to rest.',
    alsoCalled: ['shutdown', 'turns off', 'switches off'],
    phase: 'after',
    answersPress: true,
  },
  'normal-start': {
    name: 'Boots normally',
    explains: 'It climbs in steps after power-on, peaks, and settles while it keeps moving.',
    alsoCalled: ['good', 'healthy', 'normal'],
    phase: 'after',
    healthyWhen: 'start',
    isFullStart: true,
    answersPress: true,
    cue: 'started',
    implies: { 'press-response': ['start', 0.97] },
  },
  'idle-drain': {
    name: 'Drains current while off',
    explains: 'It is off or asleep and still draws more than it should, for as long as you watch.',
    alsoCalled: ['drain', 'leak', 'leakage'],
    phase: 'before',
    isUnasked: true,
    followsVoltage: true,
  },
  erratic: {
    name: 'Intermittent, no clear pattern',
    explains: 'The draw comes and goes without a pace.',
    phase: 'after',
    repeats: true,
  },
  'no-attach': {
    name: 'No bus voltage',
    explains: 'The port shows no voltage and no current: the charger does not see a device.',
    phase: 'after',
    isDead: true,
  },
  'attach-cycling': {
    name: 'Bus voltage comes and goes',
    explains: 'The voltage at the port comes and goes at an even pace: the charger tries again and again.',
    phase: 'after',
    repeats: true,
  },
  'unraised-dark': {
    name: 'Stuck at 5 V, almost no draw',
    explains: '5 V at the port, no higher contract, and almost no current.',
    alsoCalled: ['stuck', 'no contract', '5v'],
    phase: 'after',
    isHold: true,
    implies: {
      screen: ['dark', 0.85],
      fan: ['none', 0.9],
      'press-response': ['none', 0.85],
      'host-detects': ['nothing', 0.85],
      charges: ['no', 0.85],
      'usb-wakes': ['no', 0.9],
    },
  },
  'unraised-low': {
    name: 'Stuck at 5 V, low draw',
    explains: '5 V at the port, no higher contract, and a small steady current.',
    alsoCalled: ['stuck', 'no contract', '5v'],
    phase: 'after',
    isHold: true,
    cue: 'stalled',
    implies: {
      screen: ['dark', 0.8],
      fan: ['none', 0.8],
      'press-response': ['none', 0.8],
      charges: ['no', 0.8],
      'usb-wakes': ['no', 0.85],
    },
  },
  'dark-hold': {
    name: 'Powered, but almost no draw',
    explains: 'The voltage is there, and almost nothing is drawn, whatever you press.',
    alsoCalled: ['dead', 'stuck'],
    phase: 'after',
    isHold: true,
    isWaiting: true,
    followsVoltage: true,
    implies: {
      screen: ['dark', 0.9],
      fan: ['none', 0.9],
      'host-detects': ['nothing', 0.8],
      'press-response': ['none', 0.9],
    },
  },
  'standby-hold': {
    name: 'Holds at standby',
    explains: 'It takes a small steady power, as in standby, whether you press power or not.',
    alsoCalled: ['stuck', 'stall'],
    phase: 'after',
    isHold: true,
    isWaiting: true,
    followsVoltage: true,
    cue: 'stalled',
    implies: {
      screen: ['dark', 0.95],
      fan: ['none', 0.9],
      'host-detects': ['nothing', 0.9],
      'press-response': ['none', 0.9],
    },
  },
  'partial-hold': {
    name: 'Almost up, one thing missing',
    explains: 'It takes a steady power that is nearly that of a start, and nothing moves.',
    alsoCalled: ['stuck', 'stall', 'hang'],
    phase: 'after',
    isHold: true,
    followsVoltage: true,
    implies: { screen: ['dark', 0.9], 'host-detects': ['nothing', 0.8] },
  },
  'charge-limited': {
    name: 'Charges too slowly',
    explains: 'It charges, but far below what it should, or it stops and starts.',
    alsoCalled: ['slow'],
    phase: 'after',
    isCharging: true,
  },
  'charge-refused': {
    name: 'Runs, but does not charge',
    explains: 'The device runs, and the port takes nothing to charge with.',
    alsoCalled: ['no charge', 'not charging'],
    phase: 'after',
    isCharging: true,
  },
  'charge-normal': {
    name: 'Charges normally',
    explains: 'The contract is made and it charges with the power that is usual.',
    alsoCalled: ['good', 'healthy', 'normal'],
    phase: 'after',
    healthyWhen: 'start',
    cue: 'started',
    isCharging: true,
  },
  'voltage-dropout': {
    name: 'Voltage collapses and recovers',
    explains: 'The voltage of the feed falls under load and comes back.',
    alsoCalled: ['sag', 'brownout'],
    phase: 'after',
  },
  quiet: {
    name: 'At rest, not powered on yet',
    explains: 'It rests, and nothing was asked of it.',
    phase: 'before',
    healthyWhen: 'rest',
  },
  'voltage-steady': {
    name: 'Voltage is stable',
    explains: 'The voltage stands and does not move.',
    phase: 'after',
    healthyWhen: 'voltage',
  },
  unrecognised: { name: 'No known pattern fits', explains: 'The draw follows nothing that is known.', phase: 'after' },
} as const satisfies Readonly<Record<string, PatternDefinition>>;

export type PatternId = keyof typeof catalogue;
export const patternTypes: Readonly<Record<PatternId, PatternDefinition>> = catalogue;
export const patternIds = Object.keys(catalogue) as PatternId[];

/** What is said of a run that no pattern fits. */
export const unrecognised: PatternId = 'unrecognised';

export const patternNames = namesOf(patternTypes);
