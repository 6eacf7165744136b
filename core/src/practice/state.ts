import { actionTypes, type ActionKind, type FaultKind } from '../catalogue/index.ts';
import type { Action } from '../case/index.ts';
import { elementsNamed, targetOf, type Fault, type Profile } from '../twin/index.ts';
import { partsMeant } from './meant.ts';
import settings from './state.json';

/** A practice unit after what was done to it. */
export interface UnitState {
  /** What is still wrong with it. */
  faults: Fault[];
  /** Ids of what is off the board. */
  off: string[];
}

type Done = Pick<Action, 'id' | 'kind' | 'target' | 'undoes'> & Partial<Pick<Action, 'circuit'>>;

/** Whether work of a kind mends a fault where it is done. */
export function mendsFault(device: Profile, kind: ActionKind, fault: Fault): boolean {
  const { mendedBy, reloadMends, leakFromOhm } = settings;
  if (kind === 'reload-firmware') return reloadMends.includes(targetOf(device, fault.at)?.circuit ?? '');
  const kinds = (mendedBy as Partial<Record<ActionKind, string[]>>)[kind] ?? [];
  if (kind === 'clean' && fault.kind === 'short') return (fault.value ?? 0) >= leakFromOhm;
  return kinds.includes('any') || kinds.includes(fault.kind satisfies FaultKind);
}

/**
 * How a unit is after the changes that were entered, in their order. A change that was taken back counts as never made; a
 * short on a rail goes with the part that is taken off it; what is meant by a part's name says {@link partsMeant}.
 *
 * @param faults that it came with
 */
export function stateAfter(device: Profile, faults: readonly Fault[], actions: readonly Done[]): UnitState {
  let left = [...faults];
  const off = new Set<string>();
  const stands = actions.filter((a) => !actions.some((b) => b.undoes === a.id));
  for (const action of stands) {
    const { takesAway, putsBack } = actionTypes[action.kind];
    const away = new Set<string>();
    for (const { id, element } of elementsNamed(device, action.target)) {
      const isNet = element === 'rail';
      if (putsBack) off.delete(id);
      else if (takesAway && !isNet && action.kind !== 'burn') away.add(id);
    }
    for (const id of away) off.add(id);
    if (putsBack) continue;
    const meant = partsMeant(device, action).filter((id) => !away.has(id));
    left = left.filter((f) => !meant.includes(f.at) || !mendsFault(device, action.kind, f));
  }
  return { faults: left, off: [...off] };
}
