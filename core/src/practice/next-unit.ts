import type { CircuitId } from '../catalogue/index.ts';
import { baseRates, indexOf } from '../hypotheses/index.ts';
import type { Random } from '../trace/index.ts';
import { expectedShare, type Ability } from './ability.ts';
import { circuitsOf, isDue, type Review } from './review.ts';
import settings from './next-unit.json';

/** What somebody should practise next, and why, for a sentence. */
export interface NextUnit {
  circuit: CircuitId;
  why: 'mixed-up' | 'new' | 'weak';
  /** The other of the pair that was mixed up; null for anything else. */
  against: CircuitId | null;
}

/** What is known of a person, and of the units that there are. */
export interface Learner {
  ability: Ability;
  pairs: readonly Review[];
  /** Circuits of the last units, the newest last. */
  recent: readonly CircuitId[];
}

/**
 * The unit that teaches most now: a pair that was mixed up and is due; else a circuit that is worth knowing (how often it
 * fails), where a good call is neither certain nor out of reach, and that was not practised just now.
 *
 * @param circuits that units can be made of
 * @param difficulty of each, as {@link expectedShare} takes it
 * @param random seeded
 */
export function chooseNext(
  learner: Learner,
  circuits: readonly CircuitId[],
  difficulty: (circuit: CircuitId) => number,
  now: Date,
  random: Random,
): NextUnit {
  const { ability, pairs, recent } = learner;
  const last = recent.slice(-settings.rests);
  const due = pairs
    .filter((r) => isDue(r, now))
    .flatMap((r) => {
      const both = circuitsOf(r.key).filter((c) => circuits.includes(c) && !last.includes(c));
      return both.length > 0 ? [{ both, all: circuitsOf(r.key), at: new Date(r.card.due).getTime() }] : [];
    })
    .sort((a, b) => a.at - b.at)[0];
  if (due) {
    const circuit = due.both[Math.floor(random() * due.both.length)];
    return { circuit, why: 'mixed-up', against: due.all.find((c) => c !== circuit) ?? null };
  }
  const open = circuits.filter((c) => !last.includes(c));
  const rates = baseRates();
  const list = (open.length > 0 ? open : circuits).map((circuit) => {
    const share = expectedShare(ability, circuit, difficulty(circuit));
    const calls = ability.by[circuit]?.calls ?? 0;
    // How often it fails, with a floor: a rare fault is worth knowing too.
    const worth = Math.sqrt(Math.max(rates[indexOf.get(circuit) ?? 0], settings.leastRate));
    const room = Math.max(settings.leastRoom, 1 - Math.abs(share - settings.aimedShare) / settings.aimedWithin);
    return { circuit, calls, worth: (worth * room * (1 - share)) / (1 + calls) };
  });
  const best = list.reduce((a, b) => (b.worth > a.worth ? b : a));
  return { circuit: best.circuit, why: best.calls === 0 ? 'new' : 'weak', against: null };
}
