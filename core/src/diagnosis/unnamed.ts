import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import { normaliseWeights, sumBy } from '../inference/index.ts';
import type { Belief } from './belief.ts';

/** A place whose circuit nobody has named, with what it most likely belongs to. */
export interface UnnamedPlace {
  /** As it was first called. */
  where: string;
  /** The likeliest first, 0 to 1 each; what is hardly possible is left out. */
  guesses: { circuit: CircuitId; p: number }[];
}

/** Fewer guesses are read than a list of all circuits, and what is under a few per cent is none. */
const offered = { most: 5, from: 0.03 };

/**
 * Places of a case without a circuit, each with the circuits that a fault at it would be of: what was measured, fed, found and
 * said there, and what the runs show, all weighed.
 */
export function unnamedPlaces({ history, posterior }: Pick<Belief, 'history' | 'posterior'>): UnnamedPlace[] {
  const { places, hypotheses, circuitOf } = history.space;
  return places
    .filter((place) => place.circuit === null)
    .map((place) => {
      const here = posterior.map((p, h) => (hypotheses[h].place === place.key ? p : 0));
      const circuits = here.some((p) => p > 0) ? normaliseWeights(sumBy(here, circuitOf, circuitIds.length)) : [];
      const guesses = circuits
        .map((p, k) => ({ circuit: circuitIds[k], p }))
        .filter(({ p }) => p >= offered.from)
        .sort((a, b) => b.p - a.p)
        .slice(0, offered.most);
      return { where: place.name, guesses };
    });
}
