import rules from './readings.json';

const steps = rules.columns.length;
const main = rules.columns.indexOf('main');

/**
 * Where the path of the current is broken, if one circuit is at fault: at one of the steps of the ladder, nowhere, or between the
 * socket and the main rail while something else (the battery) feeds what lies behind.
 */
export interface Ladder {
  /** Probability of each of them: the steps from below, nowhere, and fed otherwise; sums to 1. */
  broken: number[];
  /** Probability that a rail of a step stands, by step and then by where the path is broken. */
  stands: number[][];
}

/**
 * The ladder that a row of the table amounts to. A step below the break stands, of the broken step some rails do, which rise one after
 * another, and a step above it is gone but for those with a feed of their own; over all breaks each step stands as often as the
 * table says.
 *
 * @param row probability that each step stands, 0 to 1
 * @param runs how surely nothing is broken at all, 0 to 1: what drains the battery runs
 */
export function ladderOf(row: readonly number[], runs: number): Ladder {
  const least = Math.min(...row);
  const whole: number[] = [];
  const some: number[] = [];
  for (const [k, p] of row.entries()) {
    const before = whole[k - 1] ?? 1;
    some.push(Math.min(rules.standsOfBroken[k], Math.max(0, p - least) / Math.max(before - least, 1e-9)));
    whole.push(Math.min(before, Math.max(least, (p - some[k] * before) / (1 - some[k]))));
  }
  const before = (k: number): number => whole[k - 1] ?? 1;
  // What stands although the path is broken below it.
  const left = row.map((p, k) => Math.max(0, p - whole[k] - some[k] * (before(k) - whole[k])));
  const otherwise = Math.min(left[main], 1 - before(main));
  const at = row.map((_, k) => before(k) - whole[k]);
  const belowMain = 1 - before(main);
  const alone = belowMain > 0 ? 1 - otherwise / belowMain : 1;
  const broken = [...at.map((p, k) => (k < main ? p * alone : p)), whole[steps - 1], otherwise];
  const stands = row.map((_, k) => {
    const below = at
      .slice(0, main)
      .reduce((sum, p, b) => sum + p * (b > k ? rules.standsWhole : b === k ? some[k] : 0), 0);
    const fed =
      k < main
        ? below / Math.max(belowMain, 1e-9)
        : otherwise > 0
          ? Math.min(rules.standsWhole, left[k] / otherwise)
          : 0;
    const byItself = Math.min(1, Math.max(0, left[k] - otherwise * fed) / Math.max(1 - before(k) - otherwise, 1e-9));
    return [...at.map((_, b) => (b > k ? rules.standsWhole : b === k ? some[k] : byItself)), rules.standsWhole, fed];
  });
  return { broken: broken.map((p, b) => (1 - runs) * p + (b === steps ? runs : 0)), stands };
}
