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
  /** What stands beside the form, for who does it. */
  caution?: string;
  /** What it leaves behind, after "<part> <done>: ". */
  leaves?: string;
}

const heat = 'Hot air and irons burn and fume: extraction on, battery out.';

/** The kinds of change. The ids are stable outside Umbral. */
const catalogue = {
  remove: { imperative: 'Remove', name: 'Removed', done: 'removed', takesAway: true, comesOff: true, caution: heat },
  replace: {
    imperative: 'Replace',
    name: 'Replaced',
    done: 'replaced',
    isRepair: true,
    comesOff: true,
    fits: true,
    caution: heat,
  },
  clean: {
    imperative: 'Clean',
    name: 'Cleaned',
    done: 'cleaned',
    isRepair: true,
    isLight: true,
    caution: 'Solvents burn and fume: away from heat, ventilation on, gloves.',
  },
  reflow: {
    imperative: 'Reflow',
    name: 'Reflowed',
    done: 'reflowed',
    isRepair: true,
    isProvisional: true,
    caution: heat,
    leaves: 'heating a joint again is provisional, it may open again.',
  },
  disconnect: { imperative: 'Unplug', name: 'Disconnected', done: 'disconnected', takesAway: true, isLight: true },
  reconnect: { imperative: 'Reconnect', name: 'Connected again', done: 'connected again', putsBack: true },
  refit: { imperative: 'Refit', name: 'Put back', done: 'put back', putsBack: true },
  isolate: { imperative: 'Isolate', name: 'Isolated', done: 'isolated', takesAway: true },
  'reload-firmware': {
    imperative: 'Reload',
    name: 'Firmware reloaded',
    done: 'reloaded',
    isRepair: true,
    isIrreversible: true,
  },
  burn: {
    imperative: 'Burn open',
    name: 'Short burnt open',
    done: 'burnt at',
    takesAway: true,
    isIrreversible: true,
    isProvisional: true,
    caution:
      'Burning a short open can burst parts, leave a leak and hurt inner layers: eye protection, battery out, limit set, hand on the off key.',
    leaves: 'a leak may be left, and inner layers may have suffered.',
  },
  other: { imperative: 'Work on', name: 'Something else', done: 'worked on', isProvisional: true },
} as const satisfies Readonly<Record<string, ActionDefinition>>;

export type ActionKind = keyof typeof catalogue;
export const actionTypes: Readonly<Record<ActionKind, ActionDefinition>> = catalogue;
export const actionKinds = Object.keys(catalogue) as ActionKind[];

/** Kinds of change of which something is so. */
export function actionsThat(is: 'takesAway' | 'putsBack' | 'isRepair' | 'isLight' | 'isProvisional'): ActionKind[] {
  return actionKinds.filter((kind) => actionTypes[kind][is] === true);
}
