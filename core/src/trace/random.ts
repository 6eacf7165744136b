import { uniformFloat32 } from 'pure-rand/distribution/uniformFloat32';
import { mersenne } from 'pure-rand/generator/mersenne';

/** A source of numbers in [0, 1). */
export type Random = () => number;

/**
 * Seeded generator: the same seed gives the same numbers everywhere.
 *
 * @param seed an integer; neighbours give streams that do not resemble each other
 * @returns a source of its own, which nobody else moves on
 * @see M. Matsumoto and T. Nishimura, Mersenne Twister, ACM TOMACS 1998
 * @example
 * const random = seededRandom(7);
 * random() === seededRandom(7)(); // true
 */
export function seededRandom(seed: number): Random {
  const generator = mersenne(seed);
  return () => uniformFloat32(generator);
}

/**
 * One draw from the standard normal distribution.
 *
 * @param random moved on by two numbers
 * @see G. Box and M. Muller, A note on the generation of random normal deviates, 1958
 */
export function gaussianNoise(random: Random): number {
  const u = Math.max(random(), 1e-12);
  return Math.sqrt(2 * Math.log(1 / u)) * Math.cos(2 * Math.PI * random());
}
