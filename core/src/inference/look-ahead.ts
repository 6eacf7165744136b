import { entropyBits } from './information.ts';
import { sumBy } from './log-space.ts';
import type { PerHypothesis } from './per.ts';

/** No test is worth more for taking less than this. */
const minMinutes = 0.1;

/** A test that can still be made. */
export interface OpenTest {
  minutes: number;
  depth: number;
  /** Probability of each outcome by hypothesis. */
  outcomes: readonly PerHypothesis[];
}

/** How long it takes until the group is known well enough to act, when the best test is made each time. */
export interface Outlook {
  /** Expected minutes of testing from here, the way into the device included. */
  minutes: number;
  /** Probability that the tests decide it at all. */
  decided: number;
}

/** When playing forward ends, and what the way costs. */
export interface LookAheadRules {
  /** Probability from which a group counts as decided. */
  decidedFrom: number;
  /** Branches less likely than this are not followed. */
  minShare: number;
  /** Hypotheses less likely than this do not change the plan. */
  plausibleFrom: number;
  /** Bits under which a test is not worth making. */
  minBits: number;
  /** Minutes from one depth to another. */
  openingMinutes: (reached: number, depth: number) => number;
}

interface Node {
  weights: number[];
  reached: number;
  left: readonly OpenTest[];
  share: number;
}

/**
 * Plays the tests forward: at every step the one with the most information a minute, for each of its outcomes, until a
 * group is sure enough, nothing tells any more, or the branch is too unlikely to matter. A greedy plan of this kind is
 * within a constant of the best one (Golovin and Krause 2011, adaptive submodularity).
 *
 * @param posterior by hypothesis
 * @param groups what the decision is about, by hypothesis
 * @param reached depth to which the device has been opened
 */
export function outlookOf(
  posterior: PerHypothesis,
  groups: PerHypothesis,
  tests: readonly OpenTest[],
  reached: number,
  rules: LookAheadRules,
): Outlook {
  const kept = [...posterior.keys()].filter((h) => posterior[h] > rules.plausibleFrom);
  const total = kept.reduce((sum, h) => sum + posterior[h], 0);
  if (total <= 0) return { minutes: 0, decided: 0 };
  const places = new Map([...new Set(kept.map((h) => groups[h]))].map((g, k) => [g, k]));
  const of = kept.map((h) => places.get(groups[h]) ?? 0);
  const left = tests.map((t) => ({ ...t, outcomes: t.outcomes.map((o) => kept.map((h) => o[h])) }));
  const weights = kept.map((h) => posterior[h] / total);
  return follow({ weights, reached, left, share: 1 }, of, places.size, rules);
}

function follow(node: Node, of: readonly number[], count: number, rules: LookAheadRules): Outlook {
  const now = sumBy(node.weights, of, count);
  if (Math.max(...now) >= rules.decidedFrom) return { minutes: 0, decided: 1 };
  if (node.share < rules.minShare) return { minutes: 0, decided: 0 };
  const best = bestTest(node, of, count, entropyBits(now), rules);
  if (!best) return { minutes: 0, decided: 0 };
  const outlook = { minutes: best.minutes, decided: 0 };
  for (const { weights, p } of best.branches) {
    const next = follow(
      {
        weights,
        reached: Math.max(node.reached, best.test.depth),
        left: node.left.filter((t) => t !== best.test),
        share: node.share * p,
      },
      of,
      count,
      rules,
    );
    outlook.minutes += p * next.minutes;
    outlook.decided += p * next.decided;
  }
  return outlook;
}

interface Choice {
  test: OpenTest;
  minutes: number;
  worth: number;
  branches: { weights: number[]; p: number }[];
}

function bestTest(node: Node, of: readonly number[], count: number, bitsNow: number, rules: LookAheadRules) {
  let best: Choice | null = null;
  for (const test of node.left) {
    const minutes = test.minutes + rules.openingMinutes(node.reached, test.depth);
    const branches = test.outcomes.map((o) => branchOf(node.weights, o)).filter((b) => b.p > 1e-9);
    const expected = branches.reduce((sum, b) => sum + b.p * entropyBits(sumBy(b.weights, of, count)), 0);
    const bits = bitsNow - expected;
    const worth = bits / Math.max(minutes, minMinutes);
    if (bits >= rules.minBits && (best === null || worth > best.worth)) best = { test, minutes, worth, branches };
  }
  return best;
}

function branchOf(weights: readonly number[], likelihood: ArrayLike<number>): { weights: number[]; p: number } {
  const joint = weights.map((w, h) => w * likelihood[h]);
  const p = joint.reduce((sum, x) => sum + x, 0);
  return { weights: p > 0 ? joint.map((x) => x / p) : joint, p };
}
