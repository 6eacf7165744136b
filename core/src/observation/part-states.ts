import { actionTypes, namedChecks } from '../catalogue/index.ts';
import type { Action, Case } from '../case/index.ts';
import { isSamePart } from '../hypotheses/index.ts';
import type { History } from './kind.ts';

/** Where a part is that was worked on: off the board, lifted on one side, unplugged, or on it (new, or the same as before). */
type PartPlace = 'off' | 'lifted' | 'unplugged' | 'on';

/** A part that was worked on, as it is after the last change. */
interface PartState {
  name: string;
  circuit: Action['circuit'];
  is: PartPlace;
  /** It was taken off for good. */
  stays: boolean;
  /** The change that put it there. */
  action: Action;
}

const goesTo: Partial<Record<Action['kind'], PartPlace>> = {
  remove: 'off',
  isolate: 'lifted',
  disconnect: 'unplugged',
  replace: 'on',
  refit: 'on',
  reconnect: 'on',
  plug: 'on',
};

/** Changes that put back what an earlier one took away, also where nobody said which. */
const putsBack = (a: Action): boolean => actionTypes[a.kind].putsBack === true || a.with === 'own';

/** Whether a change can be put back by another: something is away, apart, or another thing is in. */
const isAway = (a: Action): boolean =>
  actionTypes[a.kind].takesAway === true || ((a.kind === 'replace' || a.kind === 'trial') && a.with === 'good');

/**
 * Changes with the one that each of them takes back: as it was said, else the last change to the same unit or to a part of the
 * same name that is still away. The device's own thing put back in place of a good one takes back the swap.
 */
export function withUndone(actions: readonly Action[]): Action[] {
  const undone = new Set<string>();
  return actions.map((action, k) => {
    const of = (a: Action): boolean =>
      (action.unit !== null && a.unit === action.unit) || isSamePart(a.target, action.target);
    const taken =
      action.undoes ??
      (putsBack(action)
        ? (actions.slice(0, k).findLast((a) => isAway(a) && !undone.has(a.id) && of(a))?.id ?? null)
        : null);
    if (taken !== null) undone.add(taken);
    return { ...action, undoes: taken };
  });
}

/**
 * Every part that was worked on with where it is now. What is put on is the part that was off: the one that the change takes
 * back, the one of the same name, or the only one of its circuit, or of all, that is off.
 *
 * @param actions in their order; only those up to the state that is asked about
 */
export function partStates(actions: readonly Action[]): PartState[] {
  const parts: PartState[] = [];
  for (const action of actions) {
    const is = goesTo[action.kind];
    if (is === undefined || action.byItself) continue;
    const known = knownPart(parts, action, is);
    const state = { circuit: action.circuit, is, stays: action.stays === 'off', action };
    if (known) Object.assign(known, { ...state, circuit: action.circuit ?? known.circuit });
    else parts.push({ name: action.target, ...state });
  }
  return parts;
}

function knownPart(parts: readonly PartState[], action: Action, is: PartPlace): PartState | undefined {
  const undone = action.undoes === null ? undefined : parts.find((p) => p.action.id === action.undoes);
  if (undone) return undone;
  const named = parts.findLast((p) => action.target !== '' && isSamePart(p.name, action.target));
  if (named || is !== 'on') return named;
  const away = parts.filter((p) => p.is !== 'on');
  const ofCircuit = away.filter((p) => p.circuit !== null && p.circuit === action.circuit);
  if (ofCircuit.length === 1) return ofCircuit[0];
  // What nobody knew the circuit of when it came off.
  const unnamed = away.filter((p) => p.is === 'off' && (p.circuit === null || action.circuit === null));
  return action.kind === 'replace' && unnamed.length === 1 ? unnamed[0] : undefined;
}

/** Whether a pack is in, as far as anybody said. */
export function hasPackIn({ actions, runs, intake }: Pick<Case, 'actions' | 'runs' | 'intake'>): boolean {
  const isOut = partStates(actions).some(
    (p) => p.is !== 'on' && (p.circuit === 'battery.pack' || p.action.unit === 'pack'),
  );
  return !isOut && runs.at(-1)?.setup.battery !== 'absent' && !(intake.batteryIsolated && intake.batterySwollen);
}

/**
 * Where a pack that somebody found swollen is now; null where none was found. It is in until somebody says that it is stored safely, or
 * another whole pack is in its place: work on its plug or its line takes no pack out, and one that is unplugged still lies in the device.
 */
export function swollenPack({
  intake,
  checks,
  actions,
}: Pick<Case, 'intake' | 'checks' | 'actions'>): 'in' | 'out' | null {
  const isFound = intake.batterySwollen || checks.some((c) => c.id === namedChecks.look && c.outcome === 'swollen');
  if (!isFound) return null;
  const last = actions.findLast((a) => a.unit === 'pack' && !a.byItself);
  const isOther = last !== undefined && last.with !== 'own' && !actions.some((a) => a.undoes === last.id);
  return intake.batteryIsolated || isOther ? 'out' : 'in';
}

/** Parts that are not where they belong now: taken off and not replaced, lifted, unplugged. */
export function partsAway({ value }: Pick<History, 'value'>): PartState[] {
  return partStates(value.actions).filter((p) => p.is !== 'on');
}
