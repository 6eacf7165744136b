import { circuitIds } from '../catalogue/index.ts';
import type { PerCircuit } from '../inference/index.ts';

/**
 * Builds a vector from a table of named circuits and what the others get.
 *
 * @param named by circuit id; ids that are no circuit are left out
 * @param others what every circuit that is not named gets
 * @returns one number a circuit, in the order of `circuitIds`
 * @example perCircuit({ none: 1 }, 0).reduce((a, b) => a + b) // 1
 */
export function perCircuit(named: Partial<Record<string, number>>, others: number): PerCircuit {
  return circuitIds.map((id) => named[id] ?? others);
}
