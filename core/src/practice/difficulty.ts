import type { CircuitId } from '../catalogue/index.ts';
import { difficultyOf } from './ability.ts';
import measured from './difficulty.json';

/**
 * How hard units of a circuit are before any of them is called, on the scale of abilities: by the points that the engine
 * gets on them from the first runs, as `npm run bench practice` measures.
 */
export function difficultyFor(circuit: CircuitId): number {
  return difficultyOf((measured.points as Partial<Record<CircuitId, number>>)[circuit] ?? measured.usual);
}
