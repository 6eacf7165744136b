import type { PerHypothesis, PerState } from './per.ts';

/** Under every probability that is not nothing, above what underflows. */
const smallest = 1e-300;
/**
 * A small hidden Markov chain for every hypothesis: which of a few states the device is in if that hypothesis is the
 * cause. Filtered forwards (Rabiner 1989), so that a history of observations and changes is one likelihood.
 */
export interface Chain {
  /** Natural log of the likelihood of everything seen so far, by hypothesis. */
  logs: PerHypothesis;
  /**
   * Probability of each state given the hypothesis and everything seen: `states[s][h]`, sums to 1 over s. Where a fault may sit in
   * one of several places, the states of the first place come first, then those of the second.
   */
  states: PerState<PerHypothesis>;
}

/** Probability of going from one state to another, by hypothesis and the place of its fault. */
type Transition = (hypothesis: number, place: number) => readonly (readonly number[])[];

/** One number for every state and hypothesis: `table[s][h]`. */
export type StateTable = PerState<PerHypothesis>;

/**
 * A chain before anything was seen.
 *
 * @param first state in which every hypothesis begins
 * @param count how many states there are
 * @param places probability that the fault of a hypothesis sits in each of its places; one place where left out
 */
export function startChain(
  first: PerHypothesis,
  count: number,
  places: readonly PerHypothesis[] = [first.map(() => 1)],
): Chain {
  return {
    logs: first.map(() => 0),
    states: places.flatMap((share) =>
      Array.from({ length: count }, (_, s) => first.map((state, h) => (state === s ? share[h] : 0))),
    ),
  };
}

/**
 * Tells a place apart that was part of the last one so far: nothing that was seen made a difference between them.
 *
 * @param share of what is left to the last place, by hypothesis, 0 to 1
 * @param count how many states there are
 * @returns the chain with the new place before the last
 */
export function splitPlace(chain: Chain, share: PerHypothesis, count: number): Chain {
  const [others, last] = [chain.states.slice(0, -count), chain.states.slice(-count)];
  const part = (of: (h: number) => number): PerHypothesis[] => last.map((state) => state.map((p, h) => p * of(h)));
  return { logs: chain.logs, states: [...others, ...part((h) => share[h]), ...part((h) => 1 - share[h])] };
}

/**
 * Probability of an observation for every hypothesis as it stands now, its states summed out. Planning asks this for every
 * outcome of a test; entering takes the same number for the outcome that was seen.
 *
 * @param likelihood by state, then by hypothesis: probability of what was observed
 * @returns by hypothesis, 0 to 1
 */
export function predictiveProbability(chain: Chain, likelihood: StateTable): PerHypothesis {
  return chain.logs.map((_, h) => chain.states.reduce((sum, state, s) => sum + state[h] * likelihood[s][h], 0));
}

/**
 * Takes an observation into the chain.
 *
 * @param likelihood by state, then by hypothesis: probability of what was observed
 * @returns the chain after it, and the natural log that it added for every hypothesis
 */
export function observeOutcome(chain: Chain, likelihood: StateTable): { chain: Chain; increments: PerHypothesis } {
  const p = predictiveProbability(chain, likelihood).map((x) => Math.max(x, smallest));
  const increments = p.map(Math.log);
  const states = chain.states.map((state, s) => state.map((x, h) => (x * likelihood[s][h]) / p[h]));
  return { chain: { logs: chain.logs.map((x, h) => x + increments[h]), states }, increments };
}

/**
 * Moves the chain over a change.
 *
 * @param transition probability of going from state `from` to state `to` under a hypothesis whose fault sits in a place:
 *   `transition(h, place)[from][to]`
 * @param places in how many places a fault may sit
 */
export function moveStates(chain: Chain, transition: Transition, places = 1): Chain {
  const count = chain.states.length / places;
  const states = chain.states.map(() => chain.logs.map(() => 0));
  for (let h = 0; h < chain.logs.length; h++)
    for (let place = 0; place < places; place++) {
      const first = place * count;
      if (!chain.states.slice(first, first + count).some((state) => state[h] > 0)) continue;
      const t = transition(h, place);
      for (let from = 0; from < count; from++) {
        const p = chain.states[first + from][h];
        if (p > 0) for (let to = 0; to < count; to++) states[first + to][h] += p * t[from][to];
      }
    }
  return { logs: chain.logs, states };
}
