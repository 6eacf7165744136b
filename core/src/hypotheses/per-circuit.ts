import { circuitIds } from '../catalogue/index.ts';

/** One number a circuit, in the order of `circuitIds`. */
export type PerCircuit = number[];

/** Builds a vector from a table of named circuits and what the others get. */
export function perCircuit(named: Partial<Record<string, number>>, others: number): PerCircuit {
  return circuitIds.map((id) => named[id] ?? others);
}
