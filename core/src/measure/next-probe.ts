import type { CheckId } from '../case/index.ts';
import { expectedBits, openingMinutes, type DeviceTwin } from '../diagnosis/index.ts';
import { targetOf } from '../twin/index.ts';
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
  /** Tests that were made, by id, with what they showed; empty where nobody can say what that was. */
  found: ReadonlyMap<string, string>;
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
  const kept = [...posterior.keys()].filter((h) => posterior[h] > policy.plausibleFrom);
  const total = kept.reduce((sum, h) => sum + posterior[h], 0);
  const weights = kept.map((h) => posterior[h] / total);
  const of = compact(kept.map((h) => elements.of[h]));
  // A model has thousands of hypotheses and hundreds of points; what is all but excluded changes no ranking.
  const { kinds, checks } = options;
  const done = new Set(now.found.keys());
  const tests = boardTests({ twin, elements, posterior, done, only: kept, kinds, checks });
  const { isSure, isTouched } = leadingElement(twin, posterior, now.found);
  const confirming = isSure && !isTouched ? confirmingTest(twin, posterior, now)?.id : undefined;
  return tests
    .map((test): RankedTest => {
      const outcomes = Object.fromEntries(
        Object.entries(test.outcomes).map(([word, list]) => [word, test.over ? list : kept.map((h) => list[h])]),
      );
      const bits = expectedBits(weights, outcomes, of);
      const minutesInAll = minutesOf(test, now);
      return { ...test, bits, minutesInAll, worth: bits / minutesInAll, predicts: [] };
    })
    .filter((test) => test.bits >= policy.leastBits || test.id === confirming)
    .sort((a, b) => Number(b.id === confirming) - Number(a.id === confirming) || b.worth - a.worth)
    .slice(0, options.most ?? policy.mostTests)
    .map((test) => spreadOut(test, posterior.length))
    .map((test) => ({ ...test, predicts: predictionsOf(test, elements, posterior) }));
}

/** Outcomes for all hypotheses again: any is as likely as another for those that were left out. */
function spreadOut({ over, ...test }: RankedTest, hypotheses: number): RankedTest {
  if (!over) return test;
  const words = Object.entries(test.outcomes);
  const outcomes = words.map(([word, list]) => {
    const all = new Array<number>(hypotheses).fill(1 / words.length);
    over.forEach((h, k) => (all[h] = list[k]));
    return [word, all] as const;
  });
  return { ...test, outcomes: Object.fromEntries(outcomes) };
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

/** Which element it is by now, and how far that may be acted on. */
export interface Isolation {
  element: Element;
  p: number;
  /** Sure enough by everything that is known. */
  isSure: boolean;
  /** Something that was measured, unplugged or replaced at the element itself speaks for it. */
  isTouched: boolean;
  /** Both: a call from outside is no isolation, however sure it sounds. */
  isDecided: boolean;
}

/**
 * The leading element. Runs and checks from outside make a suspect; it is isolated only once something was found at it that
 * speaks for it against all others.
 *
 * @param found tests that were made, by id, with what they showed
 */
export function leadingElement(
  twin: DeviceTwin,
  posterior: readonly number[],
  found: ReadonlyMap<string, string>,
): Isolation {
  const elements = elementsOf(twin);
  const p = byElement(elements, posterior);
  const best = p.reduce((top, x, k) => (x > p[top] ? k : top), 0);
  const element = elements.list[best];
  const isSure = p[best] >= policy.decidedFrom;
  // There is nowhere to touch a good device. A circuit of which the profile has nothing is never isolated.
  const isTouched = element.id === 'none' || (isSure && isFoundAt(twin, elements, posterior, best, found));
  return { element, p: p[best], isSure, isTouched, isDecided: isSure && isTouched };
}

/** Whether a finding at the element, or at a rail of it, is likelier if it is the one than if it is any other. */
function isFoundAt(
  twin: DeviceTwin,
  elements: Elements,
  posterior: readonly number[],
  element: number,
  found: ReadonlyMap<string, string>,
): boolean {
  const places = placesOf(twin, elements.list[element].id);
  const made = [...found].filter(([id]) => touches(id, places));
  if (made.length === 0) return false;
  if (made.some(([, outcome]) => outcome === '')) return true;
  const tests = boardTests({ twin, elements, posterior, done: new Set() });
  return made.some(([id, outcome]) => {
    const list = tests.find((t) => t.id === id.replace(/:again$/, ''))?.outcomes[outcome];
    return list !== undefined && supportOf(list, elements, posterior, element) >= policy.supportFrom;
  });
}

/** How much likelier an outcome is if it is this element than if it is another: a Bayes factor. */
function supportOf(list: readonly number[], elements: Elements, posterior: readonly number[], element: number): number {
  const sums = { own: 0, ownWeight: 0, rest: 0, restWeight: 0 };
  posterior.forEach((p, h) => {
    if (elements.of[h] === element) {
      sums.own += p * list[h];
      sums.ownWeight += p;
    } else {
      sums.rest += p * list[h];
      sums.restWeight += p;
    }
  });
  return sums.own / Math.max(sums.ownWeight, 1e-12) / Math.max(sums.rest / Math.max(sums.restWeight, 1e-12), 1e-12);
}

/** The element, and the rails at which it can be measured. Empty for what is no element of the profile. */
function placesOf({ board: { profile } }: DeviceTwin, id: string): Set<string> {
  const target = targetOf(profile, id);
  if (!target) return new Set();
  const { element, index } = target;
  if (element === 'converter') return new Set([id, profile.converters[index].from, ...profile.converters[index].to]);
  if (element === 'load') return new Set([id, profile.loads[index].rail]);
  if (element === 'part') return new Set([id, ...(profile.parts[index].rail ? [profile.parts[index].rail] : [])]);
  if (element === 'peripheral') return new Set([id, profile.peripherals[index].rail]);
  if (element === 'port') return new Set([id, profile.ports[index].rail]);
  if (element === 'dc-in' && profile.dcIn) return new Set([id, profile.dcIn.rail]);
  if (element === 'battery' && profile.battery) return new Set([id, profile.battery.rail]);
  return new Set([id]);
}

/** Whether a test was made at one of the places; looks from outside touch nothing. */
function touches(id: string, places: ReadonlySet<string>): boolean {
  const [kind, at = ''] = id.split(':');
  return kind !== 'check' && at.split('+').some((one) => places.has(one));
}

/** The cheapest test that touches what is sure already, so that it is found there and not only inferred. */
export function confirmingTest(twin: DeviceTwin, posterior: readonly number[], now: BenchNow): BoardTest | null {
  const places = placesOf(twin, leadingElement(twin, posterior, now.found).element.id);
  const open = boardTests({ twin, elements: elementsOf(twin), posterior, done: new Set(now.found.keys()) });
  return open
    .filter((test) => touches(test.id, places))
    .reduce<BoardTest | null>(
      (best, t) => (best === null || minutesOf(t, now) < minutesOf(best, now) ? t : best),
      null,
    );
}
