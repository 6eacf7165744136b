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
  /** Probability of each state given the hypothesis and everything seen: `states[s][h]`, sums to 1 over s. */
  states: PerState<PerHypothesis>;
}

/** One number for every state and hypothesis: `table[s][h]`. */
export type StateTable = PerState<PerHypothesis>;

/**
 * A chain before anything was seen.
 *
 * @param first state in which every hypothesis begins
 * @param count how many states there are
 */
export function startChain(first: PerHypothesis, count: number): Chain {
  return {
    logs: first.map(() => 0),
    states: Array.from({ length: count }, (_, s) => first.map((state) => (state === s ? 1 : 0))),
  };
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
 * @param transition probability of going from state `from` to state `to` under a hypothesis: `transition(h)[from][to]`
 */
export function moveStates(chain: Chain, transition: (hypothesis: number) => readonly (readonly number[])[]): Chain {
  const count = chain.states.length;
  const states = Array.from({ length: count }, () => chain.logs.map(() => 0));
  for (let h = 0; h < chain.logs.length; h++) {
    const t = transition(h);
    for (let from = 0; from < count; from++) {
      const p = chain.states[from][h];
      if (p > 0) for (let to = 0; to < count; to++) states[to][h] += p * t[from][to];
    }
  }
  return { logs: chain.logs, states };
}
