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
  /** Index of the circuit whose net it pulls down: that is how the device draws and what stands; its own where it pulls no other. */
  net: number;
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
 * measuring, once for each place that nobody knows the circuit of, and once for the rest of it; each of them once more for
 * every net of another circuit that its faults may pull down. A point that was measured
 * holds its share of the points that a circuit of this kind usually has, so that one sound rail does not clear the others. A
 * place without a circuit may be in any of them, in those that its words name sooner.
 */
export function classHypotheses(places: readonly NamedPlace[]): Hypothesis[] {
  const unknown = places
    .filter((p) => p.circuit === null)
    .map((place) => ({ place, said: suggestedCircuits(place.name) }));
  return circuitIds.flatMap((circuit, index): Hypothesis[] => {
    const named = places.filter((p) => p.circuit === circuit);
    const nets = netsOf(circuit);
    const make = (share: number, place: NamedPlace | null): Hypothesis[] =>
      nets.map((net) => ({
        circuit,
        index,
        net: net.index,
        fault: null,
        target: place?.name ?? null,
        share: share * net.share,
        place: place?.key ?? null,
      }));
    if (circuit === 'none' || circuit === 'unmodelled') return make(1, null);
    const rest = named.length === 0 ? 1 : elsewhereShare(circuit, named.length);
    const weights = unknown.map(
      ({ said }) => circuits.unnamed.share * (said.size === 0 ? 1 : (said.get(circuit) ?? 1 / circuits.said.near)),
    );
    const total = weights.reduce((a, b) => a + b, 0);
    const scale = total === 0 ? 0 : (rest * Math.min(total, circuits.unnamed.most)) / total;
    return [
      ...named.flatMap((p) => make((1 - rest) / named.length, p)),
      ...unknown.flatMap(({ place }, k) => make(scale * weights[k], place)),
      ...make(rest * (1 - Math.min(total, circuits.unnamed.most)), null),
    ];
  });
}

/** The nets that faults of a circuit pull down: other circuits' with their shares, and its own for the rest. */
function netsOf(circuit: CircuitId): { index: number; share: number }[] {
  const others = circuitIds.flatMap((net, index) => {
    const share = pullShare(circuit, net);
    return share > 0 ? [{ index, share }] : [];
  });
  return [{ index: circuitIndex(circuit), share: 1 - others.reduce((sum, { share }) => sum + share, 0) }, ...others];
}

/** Share of a circuit's faults that pull the net of another one down, 0 to 1. */
export const pullShare = (circuit: CircuitId, net: CircuitId): number =>
  (circuits.pulls as Partial<Record<CircuitId, Partial<Record<CircuitId, number>>>>)[net]?.[circuit] ?? 0;

/** How likely a point that is called one of a circuit lies on the net of another one, 0 to 1: 1 for its own. */
export const pointOnNet = (circuit: CircuitId, net: CircuitId): number =>
  circuit === net
    ? 1
    : ((circuits.pointsOnNet as Partial<Record<CircuitId, Partial<Record<CircuitId, number>>>>)[circuit]?.[net] ?? 0);

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
