import type { CircuitId } from '../catalogue/index.ts';
import { baseRates, indexOf } from '../hypotheses/index.ts';
import type { Random } from '../trace/index.ts';
import { difficultyOf, expectedShare, type Ability } from './ability.ts';
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
 * The unit that teaches most now: of the circuit with the most to gain. That is how often it fails, times the points that can be
 * had of it at all, times what the person does not get of them yet; less each time it was practised, since the first unit of a
 * kind teaches most. A pair that was mixed up and is due counts more. What was practised just now rests.
 *
 * @param circuits that units can be made of
 * @param attainable points that the engine gets on units of a circuit, at most 100
 * @param random seeded; decides between circuits that are worth the same
 */
export function chooseNext(
  learner: Learner,
  circuits: readonly CircuitId[],
  attainable: (circuit: CircuitId) => number,
  now: Date,
  random: Random,
): NextUnit {
  const { ability, pairs, recent } = learner;
  const last = recent.slice(-settings.rests);
  const due = pairs.filter((r) => isDue(r, now)).map((r) => circuitsOf(r.key));
  const open = circuits.filter((c) => !last.includes(c));
  const rates = baseRates();
  const list = (open.length > 0 ? open : circuits).map((circuit) => {
    const points = attainable(circuit);
    const share = expectedShare(ability, circuit, difficultyOf(points));
    const calls = ability.by[circuit]?.calls ?? 0;
    const pair = due.find((both) => both.includes(circuit)) ?? null;
    // A rare fault is worth knowing too, and one that nobody can tell from the outside is met once.
    const often = Math.max(rates[indexOf.get(circuit) ?? 0], settings.minRate);
    const gain = Math.max(settings.minPoints, points) * (1 - share);
    const fresh = (1 + calls) ** -settings.wearsOff;
    const worth = often * gain * fresh * (pair ? settings.mixedUpWeight : 1) * (1 + settings.chance * random());
    return { circuit, calls, pair, worth };
  });
  const best = list.reduce((a, b) => (b.worth > a.worth ? b : a));
  const against = best.pair?.find((c) => c !== best.circuit) ?? null;
  return { circuit: best.circuit, why: against ? 'mixed-up' : best.calls === 0 ? 'new' : 'weak', against };
}
