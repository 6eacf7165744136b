import type { CircuitId } from '../catalogue/index.ts';
import type { Reading } from '../case/index.ts';
import { type ProbePhase } from '../prediction/index.ts';
import rules from './readings.json';

/** How far up the ladder a point stands, as a column of the table of what stands. */
export function columnOf({ circuit, state }: Point): number {
  const byCircuit =
    circuit === null ? undefined : (rules.columnOfCircuit as Partial<Record<CircuitId, string>>)[circuit];
  const byState = state === null ? undefined : (rules.columnOfState as Record<string, string>)[state];
  const fixed = circuit !== null && rules.fixedColumn.includes(circuit);
  return rules.columns.indexOf((fixed ? byCircuit : (byState ?? byCircuit)) ?? 'run');
}

/**
 * Probability that a rail at this place of the ladder stands with a circuit at fault; undefined where the table has none.
 *
 * @param circuit the circuit that is at fault
 * @param column place on the ladder, as `columnOf` gives it
 */
export function standsAt(circuit: CircuitId, column: number): number | undefined {
  return (rules.standing as Partial<Record<CircuitId, number[]>>)[circuit]?.[column];
}

/**
 * What probing a rail finds, by the probability that it stands.
 *
 * @param stands 0 to 1
 * @returns one probability a word, sums to 1
 */
export function standingWords(stands: number): Words {
  const rest = 1 - stands - rules.wrongLevel;
  const { missing, low, swings } = rules.absent;
  return {
    present: stands,
    missing: Math.max(rules.missingFloor, rest * missing),
    low: Math.max(0.001, rest * low),
    swings: Math.max(0.001, rest * swings),
    high: rules.wrongLevel,
  };
}

export type Words = Readonly<Record<string, number>>;

/** Where and how something is measured. */
export interface Point {
  where: string;
  circuit: CircuitId | null;
  state: Reading['state'];
  phase: ProbePhase;
}
