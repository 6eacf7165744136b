import { sumBy } from './log-space.ts';
import type { PerHypothesis } from './per.ts';

const decibansPerNat = 10 / Math.LN10;

/**
 * What one observation said of every group against all others together, in decibans (ten times the common logarithm of
 * the Bayes factor; Good 1985). Observations are taken one after another: the decibans of a group over all of them add
 * up to its posterior log odds less its prior log odds, exactly.
 *
 * @param before probability of every hypothesis before the observation
 * @param increments natural log of the observation's likelihood by hypothesis, up to a constant
 * @param groups group of every hypothesis
 * @param count how many groups there are
 */
export function decibansOf(
  before: PerHypothesis,
  increments: PerHypothesis,
  groups: PerHypothesis,
  count: number,
): number[] {
  const highest = increments.reduce((most, x) => Math.max(most, x), -Infinity);
  const joint = before.map((p, h) => p * Math.exp(increments[h] - highest));
  const own = sumBy(joint, groups, count);
  const weight = sumBy(before, groups, count);
  const [total, all] = [own.reduce((a, b) => a + b, 0), weight.reduce((a, b) => a + b, 0)];
  const tiny = 1e-300;
  return own.map((x, g) => {
    const [rest, restWeight] = [total - x, all - weight[g]];
    if (weight[g] <= tiny || restWeight <= tiny) return 0;
    return decibansPerNat * Math.log(Math.max(x / weight[g], tiny) / Math.max(rest / restWeight, tiny));
  });
}
