import { checkTypes, type CheckId, type ComplaintKind } from '../catalogue/index.ts';
import { outcomesExpected, predictedOutcome, twinTrust, type Space } from '../prediction/index.ts';
import tables from './outcomes.json';
import rules from './checks.json';
import { withPopulation, type PopulationView } from './population.ts';
import type { Question } from './question.ts';

type Words = Readonly<Record<string, number>>;

/**
 * What every hypothesis expects of a check: what the twin of the model's own profile shows, as far as it is trusted, and
 * otherwise how often such outcomes are met in practice. Null for a check whose answer is no word.
 *
 * @param complaint what was complained of: a drain is complained of by people whose device runs
 * @param rareOutcome probability that the outcome is misread, shared by all of them
 * @param population what the population of its class shows, where the model has no profile
 */
export function checkQuestion(
  space: Space,
  check: CheckId,
  complaint: ComplaintKind | null = null,
  rareOutcome = rules.rareOutcome,
  population: PopulationView | null = null,
): Question | null {
  const table = (tables as Record<string, Record<string, Words>>)[check];
  const words = checkTypes[check].outcomes;
  if (!table || words.length === 0) return null;
  const trust = twinTrust(space.closeness);
  const { isRepeat, wellWith = [] } = checkTypes[check];
  const isPresumed = complaint !== null && wellWith.includes(complaint);
  const running = isPresumed ? ((rules.wellWith as Partial<Record<ComplaintKind, number>>)[complaint] ?? 0) : 0;
  const lists = Object.fromEntries(words.map((word) => [word, new Array<number>(space.hypotheses.length).fill(0)]));
  space.hypotheses.forEach((hypothesis, h) => {
    const row = table[hypothesis.circuit] ?? table.default;
    // A complaint that presumes a running device says that it gets as far as a good one, as far as it is believed.
    const usual = running > 0 && table.none ? mix(table.none, row, running) : row;
    const sum = words.reduce((total, word) => total + (usual[word] ?? 0), 0);
    const rare = rareOutcome / words.length;
    const predicted = space.closeness === 'own' ? predictedOutcome(space.twin, check, h) : null;
    for (const word of words) {
      const p = (1 - rareOutcome) * ((usual[word] ?? 0) / sum) + rare;
      lists[word][h] =
        predicted === null || !words.includes(predicted) ? p : (1 - trust) * p + (predicted === word ? trust : 0);
    }
  });
  const predicted = population && outcomesExpected(population.worlds, population.weights, check);
  // Where nobody has a row for a circuit, what its devices do in the twin says more than the row for all others.
  const counts = (h: number): number =>
    (table[space.hypotheses[h].circuit] ? population?.shares.checks : population?.shares.checksWithoutRow) ?? 0;
  const outcomes = predicted ? withPopulation(lists, predicted, space.circuitOf, counts, words) : lists;
  return {
    key: `check:${check}`,
    outcomes,
    repeats: rules.repeats,
    lacking: isRepeat ? 'same' : undefined,
  };
}

const mix = (a: Words, b: Words, share: number): Words =>
  Object.fromEntries(
    Object.keys({ ...a, ...b }).map((word) => [word, share * (a[word] ?? 0) + (1 - share) * (b[word] ?? 0)]),
  );
