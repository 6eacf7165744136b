import { namedChecks } from '../catalogue/index.ts';
import type { CircuitId } from '../catalogue/index.ts';
import { nameOverlap } from '../hypotheses/index.ts';
import type { History } from './kind.ts';

/** Whether what was worked on is what was seen to warm. */
export function isLocated(history: Pick<History, 'value'>, circuit: CircuitId, target: string): boolean {
  const seen = [
    ...history.value.injections
      .filter((i) => i.heat === 'one-spot' && (i.hotCircuit ?? i.circuit) === circuit)
      .map((i) => i.hot ?? ''),
    ...history.value.checks
      .filter((c) => c.id === namedChecks.heat && c.outcome === 'one-spot' && c.circuit === circuit)
      .map((c) => c.where),
  ];
  return seen.some((name) => nameOverlap(name, target) >= 0.5);
}
