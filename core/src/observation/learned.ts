import type { CircuitId } from '../catalogue/index.ts';

/** A confirmed case that the case in hand may be a repeat of. */
export interface RepeatedCase {
  id: string;
  circuit: CircuitId;
  /** Element in words or as a profile's id; empty where only the circuit is known. */
  element: string;
  /** What it teaches here, 0 to 1. */
  weight: number;
  /** How alike the runs are, 0 to 1; null where no two of them can be held against each other. */
  likeness: number | null;
  /** What was answered in it, by the key of the question. */
  answers: Readonly<Record<string, string>>;
  /** What it is called in a sentence. */
  says: string;
}

/** How far the sources of predictions held in confirmed cases. */
export interface Trust {
  /** Share of the population of devices beside the tables, 0 to 1; null for what is usual. */
  population: number | null;
  /** Exponent on the likelihood of what was seen: under 1 where it was surer than it was right. */
  sharpness: number;
}

export const usualTrust: Trust = { population: null, sharpness: 1 };

/** What confirmed cases say of a case: those that it may repeat, and how far the sources held. */
export interface Learned {
  repeats: readonly RepeatedCase[];
  trust: Trust;
}

/**
 * What the confirmed cases are, in words: the nearest ones with what they were.
 *
 * @returns of the trust in the sources, where no case is near
 */
export function sayRepeats({ repeats }: Pick<Learned, 'repeats'>): string {
  const near = repeats
    .filter((r) => r.likeness !== null && r.weight > 0)
    .sort((a, b) => (b.likeness ?? 0) * b.weight - (a.likeness ?? 0) * a.weight)
    .slice(0, 2);
  if (near.length === 0) return 'how often such percentages held in confirmed cases';
  const cases = repeats.length === 1 ? 'one confirmed case' : `${repeats.length} confirmed cases`;
  return `${cases}; nearest: ${near.map((r) => r.says).join('; ')}`;
}
