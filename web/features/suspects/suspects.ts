import { circuitNames, sayEvidence, type Assessment, type CircuitId } from '@umbral/core';

/** A suspect as every screen has it: the same name and the same percentage. */
export interface Suspected {
  id: CircuitId;
  name: string;
  p: number;
  /** The element or place inside the circuit, where it has a name of its own. */
  target: string | null;
  /** Elements that it may be inside the circuit, the likeliest first. */
  parts: { name: string; p: number }[];
}

/** A reason in words, with its weight in decibans. */
interface WeighedReason {
  item: string;
  for: number;
}

const shownParts = 3;
/** A part that is less likely is not worth its line. */
const partFrom = 0.02;

/**
 * The suspects that are shown: the first three and whatever else counts, five at most, and beside them what no circuit explains.
 *
 * @param circuits as they were assessed, the likeliest first
 */
export function suspectsOf(circuits: Assessment['circuits']): (Suspected & { reasons: WeighedReason[] })[] {
  const many = circuits.filter((c, k) => k < 3 || c.p >= 0.05).slice(0, 5);
  const unmodelled = circuits.find((c) => c.id === 'unmodelled');
  const shown = unmodelled && !many.includes(unmodelled) ? [...many, unmodelled] : many;
  return shown.map(({ id, p, target, targets, evidence }) => ({
    id,
    name: circuitNames[id],
    p,
    // "Memory · memory" says nothing more.
    target: target !== null && !circuitNames[id].toLowerCase().includes(target.toLowerCase()) ? target : null,
    parts: (targets ?? []).filter((t) => t.p >= partFrom).slice(0, shownParts),
    reasons: evidence.map((e) => ({ item: sayEvidence(e), for: e.for })),
  }));
}
