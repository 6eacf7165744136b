/** A source of numbers in [0, 1). */
export type Random = () => number;

/**
 * Seeded generator (mulberry32, public domain, T. Ettinger): the same seed gives the same numbers everywhere.
 *
 * @param seed any integer
 */
export function seededRandom(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let x = state;
    x = Math.imul(x ^ (x >>> 15), x | 1);
    x ^= x + Math.imul(x ^ (x >>> 7), x | 61);
    return ((x ^ (x >>> 14)) >>> 0) / 4294967296;
  };
}

/** One draw from the standard normal distribution (Box and Muller 1958). */
export function gaussian(random: Random): number {
  const u = Math.max(random(), 1e-12);
  return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * random());
}
