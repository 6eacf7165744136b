import type { CircuitId } from '../catalogue/index.ts';
import measured from './difficulty.json';

/**
 * Points that can be had on units of a circuit before anything is opened: those of the engine, as `npm run bench practice`
 * measures them.
 */
export function attainablePoints(circuit: CircuitId): number {
  return (measured.points as Partial<Record<CircuitId, number>>)[circuit] ?? measured.usual;
}
