import type { PerHypothesis } from '../inference/index.ts';
import type { Question, SharedFact } from '../observation/index.ts';

/** Joint probability of a value of a fact and of the answers that rest on it so far, by value and then hypothesis. */
export type FactSoFar = readonly PerHypothesis[];

/**
 * What is known of a fact after one more answer: `P(value, answers | h) = P(value | h) Π P(answer | value, h)`. The answers are
 * independent given the fact, so that their order does not matter.
 */
export function addAnswer(before: FactSoFar | undefined, { values, given }: SharedFact, word: string): FactSoFar {
  const soFar = before ?? values;
  return soFar.map((list, v) => Array.from(list, (p, h) => p * given[word][v][h]));
}

/**
 * A question as it stands after the answers that rest on the same fact.
 *
 * @param soFar what they left of the fact; undefined before the first
 */
export function givenFact(soFar: FactSoFar | undefined, question: Question): Question {
  const { rests } = question;
  if (!rests || !soFar) return question;
  const total = (list: readonly PerHypothesis[], h: number): number => list.reduce((sum, by) => sum + by[h], 0);
  const words = Object.keys(rests.given);
  const next = words.map((word) => addAnswer(soFar, rests, word));
  const outcomes = words.map((word, w) => [
    word,
    Array.from(soFar[0], (_, h) => {
      const before = total(soFar, h);
      return before > 0 ? total(next[w], h) / before : question.outcomes[word][h];
    }),
  ]);
  return { ...question, outcomes: Object.fromEntries(outcomes) as Question['outcomes'] };
}
