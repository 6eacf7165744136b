import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import type { PerCircuit } from '../inference/index.ts';
import type { Reason } from '../reasons/index.ts';
import { likenessOf, type AlikeCase } from './alike.ts';
import settings from './memory.json';

/** What confirmed cases say of the outside of a case: bounded, and never of what was measured. */
export interface Memory {
  /** Natural log of the factor by circuit, in the order of `circuitIds`; 0 where nothing is remembered. */
  logs: PerCircuit;
  /** Cases of this model, and of others of its class, that show the same in the same setup; each by its weight. */
  ofModel: number;
  ofClass: number;
  reason: Reason;
  /** How much each case counts, by its id. */
  counts: ReadonlyMap<string, { circuit: CircuitId; count: number }>;
}

/**
 * What confirmed cases whose runs show the same in the same setup say of each circuit. Five of this model together are worth a
 * good outside check, a factor of ten at most; those of other models of the class a factor of two at most; cases whose runs
 * show something else nothing.
 *
 * @param alike confirmed cases held against the case in hand, without it
 * @returns null where none of them shows the same
 */
export function memoryOf(alike: readonly AlikeCase[]): Memory | null {
  const [own, other] = [new Map<CircuitId, number>(), new Map<CircuitId, number>()];
  const counts = new Map<string, { circuit: CircuitId; count: number }>();
  for (const { one, squared, weight } of alike) {
    const likeness = squared === null ? 0 : likenessOf(squared);
    if (likeness < settings.samePatternFrom) continue;
    const count = one.weight * likeness;
    const of = weight === one.weight ? own : other;
    of.set(one.circuit, (of.get(one.circuit) ?? 0) + count);
    counts.set(one.id, { circuit: one.circuit, count });
  }
  if (counts.size === 0) return null;
  const { model, otherModels } = settings;
  const log = (n: number, { factor, cases }: typeof model): number => Math.log(factor) * Math.min(1, n / cases);
  const total = (of: ReadonlyMap<CircuitId, number>): number => [...of.values()].reduce((a, b) => a + b, 0);
  const [ofModel, ofClass] = [total(own), total(other)];
  return {
    logs: circuitIds.map((id) => log(own.get(id) ?? 0, model) + log(other.get(id) ?? 0, otherModels)),
    ofModel,
    ofClass,
    reason: reasonOf(alike, counts),
    counts,
  };
}

/** How many cases there are, and what the two that count most were. */
function reasonOf(alike: readonly AlikeCase[], counts: Memory['counts']): Reason {
  const said = alike
    .filter((a) => counts.has(a.one.id))
    .sort((a, b) => (counts.get(b.one.id)?.count ?? 0) - (counts.get(a.one.id)?.count ?? 0));
  const ofModel = said.filter((a) => a.weight === a.one.weight).length;
  const closest = said.slice(0, 2).map((a) => a.one.says);
  return { id: 'past-cases', values: { cases: said.length, ofModel, closest } };
}
