import { sumBy } from './log-space.ts';
import type { PerHypothesis } from './per.ts';

/**
 * Shannon entropy of a distribution in bits; weights need not sum to 1.
 *
 * @param weights by outcome, none below 0
 * @returns bits; 0 where one outcome has everything, and for no outcomes
 * @see C. Shannon, A mathematical theory of communication, 1948
 * @example entropyBits([1, 1]) // 1
 */
export function entropyBits(weights: readonly number[]): number {
  const total = weights.reduce((sum, x) => sum + x, 0);
  if (total <= 0) return 0;
  return weights.reduce((sum, x) => (x > 0 ? sum - (x / total) * Math.log2(x / total) : sum), 0);
}

/**
 * Expected reduction, in bits, of the entropy of the group by asking for one of the outcomes.
 *
 * @param posterior by hypothesis
 * @param outcomes probability of each outcome by hypothesis; sums to 1 for each
 * @param groups what the decision is about, by hypothesis; every hypothesis by itself where left out
 * @example expectedBits([0.5, 0.5], { yes: [1, 0], no: [0, 1] }) // 1
 */
export function expectedBits(
  posterior: PerHypothesis,
  outcomes: Readonly<Record<string, PerHypothesis>>,
  groups: PerHypothesis = [...posterior.keys()],
): number {
  const count = groups.reduce((most, k) => Math.max(most, k), 0) + 1;
  let expected = 0;
  for (const likelihood of Object.values(outcomes)) {
    const joint = sumBy(
      posterior.map((p, h) => p * likelihood[h]),
      groups,
      count,
    );
    const total = joint.reduce((sum, x) => sum + x, 0);
    if (total > 1e-9) expected += total * entropyBits(joint);
  }
  return Math.max(0, entropyBits(sumBy(posterior, groups, count)) - expected);
}
