import { actionTypes, type ActionKind, type FaultKind } from '../catalogue/index.ts';
import type { Action } from '../case/index.ts';
import { batteryId, targetOf, type Fault, type Profile } from '../twin/index.ts';
import settings from './state.json';
import { workable } from './unit.ts';

/** A practice unit after what was done to it. */
export interface UnitState {
  /** What is still wrong with it. */
  faults: Fault[];
  /** Ids of what is off the board. */
  off: string[];
}

type Done = Pick<Action, 'id' | 'kind' | 'target' | 'undoes'>;

/** Ids of what a change names on a device, by id or by name: two where a rail is called as a part on it; none for anything else. */
export function elementsNamed(device: Profile, target: string): string[] {
  const wanted = target.trim().toLowerCase();
  if (wanted === batteryId || wanted === 'battery pack') return device.battery ? [batteryId] : [];
  const port = /^port (\d)$/.exec(wanted);
  if (port) return device.ports.slice(Number(port[1]) - 1, Number(port[1])).map((p) => p.id);
  return workable(device)
    .filter((x) => [x.id, x.name].some((text) => text.toLowerCase() === wanted))
    .map((x) => x.id);
}

/** Whether work of a kind mends a fault where it is done. */
export function mends(device: Profile, kind: ActionKind, fault: Fault): boolean {
  const { mendedBy, reloadMends, leakFromOhm } = settings;
  if (kind === 'reload-firmware') return reloadMends.includes(targetOf(device, fault.at)?.circuit ?? '');
  const kinds = (mendedBy as Partial<Record<ActionKind, string[]>>)[kind] ?? [];
  if (kind === 'clean' && fault.kind === 'short') return (fault.value ?? 0) >= leakFromOhm;
  return kinds.includes('any') || kinds.includes(fault.kind satisfies FaultKind);
}

/**
 * How a unit is after the changes that were entered, in their order. A change that was taken back counts as never made; a
 * short on a rail goes with the part that is taken off it.
 *
 * @param faults that it came with
 */
export function stateAfter(device: Profile, faults: readonly Fault[], actions: readonly Done[]): UnitState {
  let left = [...faults];
  const off = new Set<string>();
  const stands = actions.filter((a) => !actions.some((b) => b.undoes === a.id));
  for (const action of stands) {
    const { takesAway, putsBack } = actionTypes[action.kind];
    for (const id of elementsNamed(device, action.target)) {
      const isNet = targetOf(device, id)?.element === 'rail';
      if (putsBack) off.delete(id);
      else if (takesAway && !isNet && action.kind !== 'burn') off.add(id);
      else left = left.filter((f) => f.at !== id || !mends(device, action.kind, f));
    }
  }
  return { faults: left, off: [...off] };
}
