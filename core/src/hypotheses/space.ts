import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import type { Fault } from '../twin/index.ts';
import circuits from './circuits.json';
import type { NamedPlace } from './places.ts';
import { suggestedCircuits } from './vocabulary.ts';

/** What may be wrong: a fault at an element of a profile, or in a circuit at a place that somebody named. */
export interface Hypothesis {
  circuit: CircuitId;
  /** Index of the circuit in `circuitIds`. */
  index: number;
  /** Null where nothing can be simulated: a model without a profile, a circuit without an element. */
  fault: Fault | null;
  /** The element in words; null for a circuit as a whole. */
  target: string | null;
  /** Share of the circuit's probability before anything was seen; sums to 1 within a circuit. */
  share: number;
  /** Key of the named place in `Space.places` where it sits; null elsewhere in its circuit, or where a profile names it. */
  place: string | null;
}

export const indexOf = new Map<CircuitId, number>(circuitIds.map((id, k) => [id, k]));

/** The index of a circuit in `circuitIds`. */
export function circuitIndex(id: CircuitId): number {
  return indexOf.get(id) ?? 0;
}

/**
 * The hypotheses for a model that has no profile: every circuit, once for each of its places that somebody named while
 * measuring, once for each place that nobody knows the circuit of, and once for the rest of it. A point that was measured
 * holds its share of the points that a circuit of this kind usually has, so that one sound rail does not clear the others. A
 * place without a circuit may be in any of them, in those that its words name sooner.
 */
export function classHypotheses(places: readonly NamedPlace[]): Hypothesis[] {
  const unknown = places
    .filter((p) => p.circuit === null)
    .map((place) => ({ place, said: suggestedCircuits(place.name) }));
  return circuitIds.flatMap((circuit, index): Hypothesis[] => {
    const named = places.filter((p) => p.circuit === circuit);
    const make = (share: number, place: NamedPlace | null): Hypothesis => ({
      circuit,
      index,
      fault: null,
      target: place?.name ?? null,
      share,
      place: place?.key ?? null,
    });
    if (circuit === 'none' || circuit === 'unmodelled') return [make(1, null)];
    const rest = named.length === 0 ? 1 : elsewhereShare(circuit, named.length);
    const weights = unknown.map(
      ({ said }) => circuits.unnamed.share * (said.size === 0 ? 1 : (said.get(circuit) ?? 1 / circuits.said.near)),
    );
    const total = weights.reduce((a, b) => a + b, 0);
    const scale = total === 0 ? 0 : (rest * Math.min(total, circuits.unnamed.most)) / total;
    return [
      ...named.map((p) => make((1 - rest) / named.length, p)),
      ...unknown.map(({ place }, k) => make(scale * weights[k], place)),
      make(rest * (1 - Math.min(total, circuits.unnamed.most)), null),
    ];
  });
}

/**
 * Share of a circuit's faults that sits at none of `named` points of it.
 *
 * @param circuit the circuit that is at fault
 * @param named how many of its points were named
 * @returns 0 to 1; 1 where none was named
 */
export function elsewhereShare(circuit: CircuitId, named: number): number {
  const usual = (circuits.points as Partial<Record<CircuitId, number>>)[circuit] ?? 2;
  return Math.max(circuits.elsewhere, 1 - named / Math.max(usual, 1));
}

/**
 * Probability that two points of a circuit that were named apart are points of one net: one over its usual number of nets.
 *
 * @returns 0 to 1
 */
export function sameNetShare(circuit: CircuitId): number {
  return 1 / Math.max((circuits.points as Partial<Record<CircuitId, number>>)[circuit] ?? 2, 1);
}
