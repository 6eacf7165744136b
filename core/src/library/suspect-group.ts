import type { CircuitId } from '../catalogue/index.ts';

/** Suspects that are named together because none of them can be told apart yet. */
export interface SuspectGroup {
  circuits: CircuitId[];
  /** What all of them have together, 0 to 1. */
  p: number;
}

/** What a group must reach together. */
const groupFrom = 0.8;

/**
 * The smallest group of suspects that reaches four in five together, likeliest first.
 *
 * @param circuits by probability, the first suspect first
 * @returns null where they do not reach it together
 * @example suspectGroup([{ id: 'rail.run', p: 0.5 }, { id: 'pmic', p: 0.35 }]).p // 0.85
 */
export function suspectGroup(circuits: readonly { id: CircuitId; p: number }[]): SuspectGroup | null {
  const out: SuspectGroup = { circuits: [], p: 0 };
  for (const { id, p } of circuits) {
    out.circuits.push(id);
    out.p += p;
    if (out.p >= groupFrom) return out;
  }
  return null;
}
