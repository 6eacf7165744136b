import type { CheckId } from '../case/index.ts';
import { entropyBits, expectedBits, openingMinutes, type DeviceTwin } from '../diagnosis/index.ts';
import policy from './data/measuring.json';
import { byElement, elementsOf, type Element, type Elements } from './elements.ts';
import { boardTests, type BoardTest, type BoardTestKind } from './tests.ts';

/** What one suspect expects of a test. */
export interface ElementPrediction {
  element: Element;
  p: number;
  outcome: string;
  /** How sure the suspect is of that outcome. */
  certainty: number;
}

/** A test with what it is worth now. */
export interface RankedTest extends BoardTest {
  /** Expected information about which element it is, bits. */
  bits: number;
  /** With the way into the device and the change of what the meter does. */
  minutesInAll: number;
  /** Bits a minute. */
  worth: number;
  predicts: ElementPrediction[];
}

/** How the device stands when the next test is chosen. */
export interface BenchNow {
  /** How deep it has been opened. */
  reached: number;
  /** What was done last: changing between a powered and an unpowered measurement takes time. */
  last: BoardTestKind | null;
  /** Ids of tests that were made. */
  done: ReadonlySet<string>;
}

const poweredKinds: readonly BoardTestKind[] = ['check', 'voltage', 'unplug'];

/** Minutes that a test takes from here: the way into the device, and changing between powered and unpowered, included. */
export function minutesOf(test: BoardTest, now: BenchNow): number {
  const changes = now.last !== null && poweredKinds.includes(now.last) !== poweredKinds.includes(test.kind);
  return test.minutes + openingMinutes(now.reached, test.depth) + (changes ? policy.minutes.modeSwitch : 0);
}

/**
 * What to do next at the opened device: every probe, unplugging, injection and replacement by expected information about
 * the element at fault over the minutes that it takes, the way to the point included. A greedy choice of this kind is within
 * a constant of the best plan (Golovin and Krause 2011, adaptive submodularity), and bisects a ladder by itself.
 *
 * @param posterior by hypothesis of the twin
 * @returns best first, at most as many as the policy shows
 */
export function nextTests(
  twin: DeviceTwin,
  posterior: readonly number[],
  now: BenchNow,
  options: {
    kinds?: readonly BoardTestKind[];
    most?: number;
    checks?: (check: CheckId) => Record<string, number[]> | null;
  } = {},
): RankedTest[] {
  const elements = elementsOf(twin);
  const tests = boardTests({ twin, elements, posterior, done: now.done, checks: options.checks });
  const kept = [...posterior.keys()].filter((h) => posterior[h] > policy.plausibleFrom);
  const total = kept.reduce((sum, h) => sum + posterior[h], 0);
  const weights = kept.map((h) => posterior[h] / total);
  const of = compact(kept.map((h) => elements.of[h]));
  return tests
    .filter((test) => options.kinds === undefined || options.kinds.includes(test.kind))
    .map((test): RankedTest => {
      const outcomes = Object.fromEntries(
        Object.entries(test.outcomes).map(([word, list]) => [word, kept.map((h) => list[h])]),
      );
      const bits = expectedBits(weights, outcomes, of);
      const minutesInAll = minutesOf(test, now);
      return { ...test, bits, minutesInAll, worth: bits / minutesInAll, predicts: [] };
    })
    .filter((test) => test.bits >= policy.leastBits)
    .sort((a, b) => b.worth - a.worth)
    .slice(0, options.most ?? policy.mostTests)
    .map((test) => ({ ...test, predicts: predictionsOf(test, elements, posterior) }));
}

/** Numbers without holes, so that sums by them are short lists. */
function compact(numbers: readonly number[]): number[] {
  const places = new Map<number, number>();
  return numbers.map((n) => {
    const known = places.get(n);
    if (known !== undefined) return known;
    places.set(n, places.size);
    return places.size - 1;
  });
}

function predictionsOf(test: BoardTest, elements: Elements, posterior: readonly number[]): ElementPrediction[] {
  const p = byElement(elements, posterior);
  const leaders = [...p.keys()].sort((a, b) => p[b] - p[a]).slice(0, policy.mostSuspects);
  return leaders.map((k) => {
    const shares = Object.entries(test.outcomes).map(([outcome, list]) => ({
      outcome,
      share: list.reduce((sum, x, h) => sum + (elements.of[h] === k ? x * posterior[h] : 0), 0) / Math.max(p[k], 1e-12),
    }));
    const best = shares.reduce((a, b) => (b.share > a.share ? b : a));
    return { element: elements.list[k], p: p[k], outcome: best.outcome, certainty: best.share };
  });
}

/** The posterior once a test has shown one of its outcomes (Bayes). An outcome that nobody expects changes nothing. */
export function afterOutcome(
  posterior: readonly number[],
  test: Pick<BoardTest, 'outcomes'>,
  outcome: string,
): number[] {
  const list = Object.hasOwn(test.outcomes, outcome) ? test.outcomes[outcome] : null;
  if (!list) return [...posterior];
  const joint = posterior.map((p, h) => p * list[h]);
  const sum = joint.reduce((a, b) => a + b, 0);
  return sum > 0 ? joint.map((x) => x / sum) : [...posterior];
}

/** Which element it is by now, how sure, and whether that is enough to act on. */
export function leadingElement(
  twin: DeviceTwin,
  posterior: readonly number[],
): { element: Element; p: number; isDecided: boolean; bitsLeft: number } {
  const elements = elementsOf(twin);
  const p = byElement(elements, posterior);
  const best = p.reduce((top, x, k) => (x > p[top] ? k : top), 0);
  return {
    element: elements.list[best],
    p: p[best],
    isDecided: p[best] >= policy.decidedFrom,
    bitsLeft: entropyBits(p),
  };
}
