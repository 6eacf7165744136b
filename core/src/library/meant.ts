import {
  circuitIds,
  circuitTypes,
  patternIds,
  patternTypes,
  type CircuitId,
  type PatternId,
} from '../catalogue/index.ts';

interface Called {
  name: string;
  alsoCalled?: readonly string[];
}

/** Letters from which a beginning of a word means it. */
const minLetters = 3;

/**
 * Patterns and circuits that a word names: by their name, or as people at a bench call them.
 *
 * @example
 * meantBy('fuse').circuits; // ['input.protection']
 */
export function meantBy(word: string): { patterns: PatternId[]; circuits: CircuitId[] } {
  const asked = word.trim().toLowerCase();
  const isMeant = ({ name, alsoCalled = [] }: Called): boolean =>
    [...alsoCalled, ...name.toLowerCase().split(/[^\p{L}\p{N}]+/u)].some(
      (called) => called === asked || (asked.length >= minLetters && called.startsWith(asked)),
    );
  return {
    patterns: patternIds.filter((id) => isMeant(patternTypes[id])),
    circuits: circuitIds.filter((id) => isMeant(circuitTypes[id])),
  };
}
