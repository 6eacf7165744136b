import type { Question } from '../observation/index.ts';

/**
 * Answers that share a fact: with some certainty they all follow it, and otherwise each is free. Where they follow it, one
 * number between 0 and 1 that nobody sees decides them all: every question says no up to its own probability of no (a
 * comonotone coupling; Nelsen 2006, section 2.5). So each answer alone keeps its probability, the joint probability of any
 * set is the same in whatever order they are entered, and ten rails that stand are hardly more than one.
 */
export interface AlikeSoFar {
  /** Joint probability of the answers so far by hypothesis, each free. */
  free: number[];
  /** The same given which way each of them went. */
  given: number[];
  /** Least probability of no among those that said no; the fact lies below it. */
  below: number[];
  /** Greatest probability of no among those that said yes; the fact lies above it. */
  above: number[];
}

const nothing = (hypotheses: number): AlikeSoFar => ({
  free: new Array<number>(hypotheses).fill(1),
  given: new Array<number>(hypotheses).fill(1),
  below: new Array<number>(hypotheses).fill(1),
  above: new Array<number>(hypotheses).fill(0),
});

function joint({ free, given, below, above }: AlikeSoFar, certainty: number, h: number): number {
  return certainty * given[h] * Math.max(0, below[h] - above[h]) + (1 - certainty) * free[h];
}

/** The answers so far with one more. */
export function addAlike(before: AlikeSoFar | undefined, question: Question, word: string): AlikeSoFar {
  const list = question.outcomes[word];
  const soFar = before ?? nothing(list.length);
  const no = question.alike?.no ?? [];
  const isNo = no.includes(word);
  const mass = list.map((_, h) => no.reduce((sum, w) => sum + (question.outcomes[w]?.[h] ?? 0), 0));
  return {
    free: soFar.free.map((x, h) => x * list[h]),
    given: soFar.given.map((x, h) => (x * list[h]) / Math.max(isNo ? mass[h] : 1 - mass[h], 1e-9)),
    below: isNo ? soFar.below.map((x, h) => Math.min(x, mass[h])) : soFar.below,
    above: isNo ? soFar.above : soFar.above.map((x, h) => Math.max(x, mass[h])),
  };
}

/**
 * A question as it stands after the answers of its group so far.
 *
 * @param soFar what the group answered before; undefined for its first question
 * @param question with its outcomes by hypothesis
 */
export function givenAlike(soFar: AlikeSoFar | undefined, question: Question): Question {
  const { alike } = question;
  if (!alike || !soFar) return question;
  const { certainty } = alike;
  const before = soFar.free.map((_, h) => Math.max(joint(soFar, certainty, h), 1e-12));
  return {
    ...question,
    outcomes: Object.fromEntries(
      Object.keys(question.outcomes).map((word) => {
        const next = addAlike(soFar, question, word);
        return [word, before.map((p, h) => joint(next, certainty, h) / p)];
      }),
    ),
  };
}
