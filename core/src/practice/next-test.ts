import type { Case } from '../case/index.ts';
import { byCircuits, planNext, rankTests, type ShopPolicy, type Suggestion } from '../decide/index.ts';
import { believe, type AssessOptions, type Belief } from '../diagnosis/index.ts';
import type { PerHypothesis } from '../inference/index.ts';
import { namesOfHot, observationKinds, sayOutcome, type Candidate } from '../observation/index.ts';
import type { Shape } from '../shape/index.ts';

/** An outcome of a test as a technician says it, with how likely the engine thinks it, 0 to 1. */
interface ExpectedOutcome {
  says: string;
  p: number;
}

/** A test that can be named as the next one, with what it is worth now. */
export interface ValuedTest {
  name: string;
  kind: Suggestion['kind'];
  /** 100 for what the engine would do; the others by what they tell about the circuit a minute, beside it. */
  points: number;
  /** Likeliest first; empty for stopping and for a proof. */
  outcomes: ExpectedOutcome[];
}

const whole = 100;

/**
 * Everything that can be named as the next test of a unit, with what it is worth as things stand: a test that tells half as
 * much about the circuit a minute as the engine's first gets half its points, one that is not to be done now gets none.
 *
 * @param shapes by run id
 * @returns each name once, in the order of the names; never empty
 */
export function valuedTests(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  options: AssessOptions & { shop?: ShopPolicy } = {},
): ValuedTest[] {
  const belief = believe(value, shapes, options);
  const grouping = byCircuits(belief);
  const [first] = planNext(belief, options.shop, grouping).next;
  const ranked = rankTests(belief, grouping);
  const best = ranked.find((r) => r.candidate.name === first?.name)?.worth ?? ranked[0]?.worth ?? Infinity;
  const byName = new Map<string, ValuedTest>();
  const add = (test: ValuedTest): void => {
    const known = byName.get(test.name);
    if (!known || test.points > known.points) byName.set(test.name, test);
  };
  for (const r of ranked) {
    const { name, kind } = r.candidate;
    const points = name === first?.name ? whole : Math.round(whole * Math.min(1, r.worth / best));
    add({ name, kind, points, outcomes: expectedOf(r.candidate, r.outcomes, belief) });
  }
  // Somebody may name what tells nothing: that it is not on the list would say so.
  for (const c of observationKinds.flatMap((k) => k.candidates(belief.history)))
    if (c.kind !== 'action' && !byName.has(c.name))
      add({ name: c.name, kind: c.kind, points: 0, outcomes: expectedOf(c, belief.ask(c.question), belief) });
  add({ name: 'Stop here', kind: 'stop', points: 0, outcomes: [] });
  if (first) add({ name: first.name, kind: first.kind, points: whole, outcomes: [] });
  return [...byName.values()].sort((a, b) => a.name.localeCompare(b.name));
}

/** What comes of a test by all suspects together. */
function expectedOf(
  { kind, question }: Candidate,
  outcomes: Record<string, PerHypothesis>,
  { history, posterior }: Belief,
): ExpectedOutcome[] {
  const hot = namesOfHot(history.space, question);
  const p = new Map<string, number>();
  for (const [word, list] of Object.entries(outcomes)) {
    // Two elements of a net may bear one name.
    const says = sayOutcome(word, kind, hot);
    p.set(
      says,
      list.reduce((sum, x, h) => sum + x * posterior[h], p.get(says) ?? 0),
    );
  }
  return [...p].map(([says, of]) => ({ says, p: of })).sort((a, b) => b.p - a.p);
}
