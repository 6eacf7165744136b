import { patternTypes, type CircuitId } from '../catalogue/index.ts';
import type { Reading } from '../case/index.ts';
import { type ProbePhase } from '../prediction/index.ts';
import { topPattern } from '../shape/index.ts';
import type { SeenRun } from './observed-run.ts';
import paths from './paths.json';
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
 * Probability that a rail at this place of the ladder stands with a circuit at fault. What lies before the fault on the path of the
 * current stands while nothing pulls it into the limit, and what a start has come by stands for what makes no rail.
 *
 * @param circuit the circuit that is at fault
 * @param column place on the ladder, as `columnOf` gives it
 * @param seen runs of the device
 */
export function standsAt(circuit: CircuitId, column: number, seen: readonly SeenRun[]): number {
  const usual = (rules.standing as Partial<Record<CircuitId, number[]>>)[circuit]?.[column] ?? rules.standsUnlisted;
  const patterns = seen.map((s) => topPattern(s.patterns));
  const isUpTo = (name: string | undefined): boolean => name !== undefined && column <= rules.columns.indexOf(name);
  const isPulled =
    patterns.length === 0 || patterns.some((id) => patternTypes[id].isInLimit || patternTypes[id].mayBeFeed);
  if (!isPulled && isUpTo((paths.fedFrom as Names)[circuit])) return Math.max(usual, paths.stands.before);
  if (paths.onlyUse.includes(circuit) && patterns.some((id) => isUpTo((paths.reached as Names)[id])))
    return Math.max(usual, paths.stands.reached);
  return usual;
}

type Names = Partial<Record<string, string>>;

/**
 * What probing a rail finds, by the probability that it stands.
 *
 * @param stands 0 to 1
 * @returns one probability a word, sums to 1
 */
export function standingWords(stands: number): Words {
  const rest = 1 - stands - rules.wrongLevel;
  const { missing, low, swings } = rules.absent;
  const words = {
    present: stands,
    missing: Math.max(rules.missingFloor, rest * missing),
    low: Math.max(0.001, rest * low),
    swings: Math.max(0.001, rest * swings),
    high: rules.wrongLevel,
  };
  const sum = Object.values(words).reduce((a, b) => a + b, 0);
  return Object.fromEntries(Object.entries(words).map(([word, p]) => [word, p / sum]));
}

export type Words = Readonly<Record<string, number>>;

/** Where and how something is measured. */
export interface Point {
  where: string;
  circuit: CircuitId | null;
  state: Reading['state'];
  phase: ProbePhase;
}
