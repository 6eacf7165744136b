/** Everything that is said of a kind of change to a device beside what it costs (`observation/actions.json`). */
interface ActionDefinition {
  /** As it is chosen from a list. */
  name: string;
  /** As an instruction, before the name of a part. */
  imperative: string;
  /** After the name of a part: "capacitor at the edge removed". */
  done: string;
  /** What was there is away while it lasts. */
  takesAway?: boolean;
  /** It undoes an earlier change. */
  putsBack?: boolean;
  /** It is meant as a repair: one after which nothing moves was in vain. */
  isRepair?: boolean;
  /** A part comes off: its number and how it sat are to be noted first. */
  comesOff?: boolean;
  /** A new part comes in. */
  fits?: boolean;
  /** It cannot be undone: asked about twice. */
  isIrreversible?: boolean;
  /** It can be undone at once, and costs little: done before other changes. */
  isLight?: boolean;
  /** It may move the fault without removing its cause. */
  isProvisional?: boolean;
  /** It shows something and repairs nothing: what it shows counts for the cause, and no report tells it as a repair. */
  isTrial?: boolean;
  /** Nothing of the device itself is other than before: it is only apart, together, unplugged or tried. */
  isAssembly?: boolean;
  /** What a customer reads, with the part in words: "the coil beside the plug". */
  plain: (part: string) => string;
  /** What stands beside the form, for who does it. */
  caution?: string;
  /** What it leaves behind, after "<part> <done>: ". */
  leaves?: string;
}

const heat = 'Hot air and irons burn and give off fumes. Extraction on, battery out.';

/** The kinds of change. The ids are stable outside Umbral. */
const catalogue = {
  remove: {
    plain: (part) => `We removed ${part}.`,
    imperative: 'Remove',
    name: 'Removed',
    done: 'removed',
    takesAway: true,
    comesOff: true,
    caution: heat,
  },
  replace: {
    plain: (part) => `We replaced ${part}.`,
    imperative: 'Replace',
    name: 'Replaced',
    done: 'replaced',
    isRepair: true,
    comesOff: true,
    fits: true,
    caution: heat,
  },
  clean: {
    plain: (part) => `We cleaned ${part}.`,
    imperative: 'Clean',
    name: 'Cleaned',
    done: 'cleaned',
    isRepair: true,
    isLight: true,
    caution: 'Solvents catch fire and give off fumes. Keep away from heat, ventilate, wear gloves.',
  },
  reflow: {
    plain: (part) => `We resoldered ${part}.`,
    imperative: 'Reflow',
    name: 'Reflowed',
    done: 'reflowed',
    isRepair: true,
    isProvisional: true,
    caution: heat,
    leaves: 'a reflowed joint is provisional and may open again.',
  },
  disconnect: {
    plain: (part) => `We unplugged ${part}.`,
    imperative: 'Unplug',
    name: 'Disconnected',
    done: 'disconnected',
    takesAway: true,
    isLight: true,
    isAssembly: true,
  },
  plug: {
    plain: (part) => `We plugged ${part} in.`,
    imperative: 'Plug in',
    name: 'Plugged in',
    done: 'plugged in',
    putsBack: true,
    isAssembly: true,
  },
  reconnect: {
    plain: (part) => `We reconnected ${part}.`,
    imperative: 'Reconnect',
    name: 'Reconnected',
    done: 'reconnected',
    putsBack: true,
    isAssembly: true,
  },
  refit: {
    plain: (part) => `We refitted ${part}.`,
    imperative: 'Refit',
    name: 'Refitted',
    done: 'refitted',
    putsBack: true,
  },
  isolate: {
    plain: (part) => `We isolated ${part}.`,
    imperative: 'Lift',
    name: 'Lifted (coil, link or joint)',
    done: 'lifted',
    takesAway: true,
    isAssembly: true,
  },
  split: {
    plain: () => 'We separated the boards.',
    imperative: 'Split',
    name: 'Boards split',
    done: 'split',
    takesAway: true,
    isAssembly: true,
    caution: heat,
  },
  join: {
    plain: () => 'We joined the boards again.',
    imperative: 'Join',
    name: 'Boards joined',
    done: 'joined',
    isRepair: true,
    putsBack: true,
    caution: heat,
  },
  trial: {
    plain: (part) => `We tried it with ${part}.`,
    imperative: 'Try',
    name: 'Trial (put in or laid together to see)',
    done: 'tried',
    isTrial: true,
    isAssembly: true,
    isLight: true,
  },
  'reload-firmware': {
    plain: () => 'We reloaded the start-up software.',
    imperative: 'Reload',
    name: 'Firmware reloaded',
    done: 'reloaded',
    isRepair: true,
    isIrreversible: true,
  },
  burn: {
    plain: (part) => `We cleared a short circuit at ${part}.`,
    imperative: 'Burn off',
    name: 'Burn-off attempted',
    done: 'burn-off attempted',
    takesAway: true,
    isIrreversible: true,
    isProvisional: true,
    caution:
      'Burning off a short can burst parts, leave a leak and damage inner layers. Eye protection, battery out, limit set, hand on the off key.',
    leaves: 'a leak may remain, and inner layers may be damaged.',
  },
  other: {
    plain: (part) => `We repaired ${part}.`,
    imperative: 'Work on',
    name: 'Something else',
    done: 'repaired',
    isProvisional: true,
  },
} as const satisfies Readonly<Record<string, ActionDefinition>>;

export type ActionKind = keyof typeof catalogue;
export const actionTypes: Readonly<Record<ActionKind, ActionDefinition>> = catalogue;
export const actionKinds = Object.keys(catalogue) as ActionKind[];

/** Kinds of change of which something is so. */
export function actionsThat(
  is: 'takesAway' | 'putsBack' | 'isRepair' | 'isLight' | 'isProvisional' | 'isTrial' | 'isAssembly',
): ActionKind[] {
  return actionKinds.filter((kind) => actionTypes[kind][is] === true);
}
