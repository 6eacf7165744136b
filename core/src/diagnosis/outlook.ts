import type { CheckId } from '../case/index.ts';
import { formatPercent } from '../quantity/index.ts';
import policy from './data/policy.json';
import { openingMinutes } from './opening.ts';
import { entropyBits } from './posterior.ts';

/** A test that can still be made. */
export interface OpenTest {
  check: CheckId;
  minutes: number;
  depth: number;
  /** Probability of each outcome by hypothesis. */
  outcomes: readonly (readonly number[])[];
}

/** How long it takes until the circuit is known well enough to act, when the best test is made each time. */
export interface Outlook {
  /** Expected minutes of testing from here, the way into the device included. */
  minutes: number;
  /** Probability that the tests decide it at all. */
  decided: number;
}

interface Node {
  weights: Float64Array;
  reached: number;
  left: readonly OpenTest[];
  share: number;
}

/**
 * Plays the tests forward: at every step the one with the most information a minute, for each of its outcomes, until a
 * circuit is sure enough, nothing tells any more, or the branch is too unlikely to matter.
 *
 * @param posterior by hypothesis
 * @param index circuit of every hypothesis
 * @param reached depth to which the device has been opened
 */
export function outlookOf(
  posterior: readonly number[],
  index: readonly number[],
  tests: readonly OpenTest[],
  reached: number,
): Outlook {
  // The unlikely ones do not change the plan, and leaving them out makes it quick.
  const kept = [...posterior.keys()].filter((h) => posterior[h] > policy.plausibleFrom);
  const circuits = kept.map((h) => index[h]);
  const narrowed = tests.map((t) => ({ ...t, outcomes: t.outcomes.map((o) => kept.map((h) => o[h])) }));
  const total = kept.reduce((sum, h) => sum + posterior[h], 0);
  if (total <= 0) return { minutes: 0, decided: 0 };
  const weights = Float64Array.from(kept, (h) => posterior[h] / total);
  return follow({ weights, reached, left: narrowed, share: 1 }, circuits);
}

function follow(node: Node, circuits: readonly number[]): Outlook {
  const now = perCircuit(node.weights, circuits);
  if (Math.max(...now) >= policy.decidedFrom) return { minutes: 0, decided: 1 };
  if (node.share < policy.outlookLeastShare) return { minutes: 0, decided: 0 };
  const best = bestTest(node, circuits, entropyBits(now));
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
      circuits,
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
  branches: { weights: Float64Array; p: number }[];
}

function bestTest(node: Node, circuits: readonly number[], bitsNow: number): Choice | null {
  let best: Choice | null = null;
  for (const test of node.left) {
    const minutes = test.minutes + openingMinutes(node.reached, test.depth);
    const branches = test.outcomes.map((likelihood) => branchOf(node.weights, likelihood)).filter((b) => b.p > 1e-9);
    const expected = branches.reduce((sum, b) => sum + b.p * entropyBits(perCircuit(b.weights, circuits)), 0);
    const bits = bitsNow - expected;
    const worth = bits / minutes;
    if (bits >= policy.leastBits && (best === null || worth > best.worth)) best = { test, minutes, worth, branches };
  }
  return best;
}

function branchOf(weights: Float64Array, likelihood: readonly number[]): { weights: Float64Array; p: number } {
  const joint = weights.map((w, h) => w * likelihood[h]);
  const p = joint.reduce((sum, x) => sum + x, 0);
  return { weights: p > 0 ? joint.map((x) => x / p) : joint, p };
}

function perCircuit(weights: Float64Array, circuits: readonly number[]): number[] {
  const sums: number[] = [];
  weights.forEach((w, h) => (sums[circuits[h]] = (sums[circuits[h]] ?? 0) + w));
  return sums.filter((x) => x > 0);
}

/** The outlook as a sentence; empty where there is nothing left to test. */
export function sayOutlook({ minutes, decided }: Outlook): string {
  if (minutes < 0.5) return '';
  const about = `About ${Math.round(minutes)} minutes of tests`;
  return decided < 0.1
    ? `${about} narrow it further; settling it takes measuring on the board.`
    : `${about} to a decision, reached in ${formatPercent(decided)} of such cases.`;
}
