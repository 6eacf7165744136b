import type { Question } from '../observation/index.ts';

/**
 * Answers that share a fact: with some certainty they all go one way, and otherwise each is free. The joint probability of
 * any set of answers is that mixture (an exchangeable model, Bernardo and Smith 1994, chapter 4), so the order in which they
 * are entered does not matter, and ten rails that stand are hardly more than one.
 */
export interface AlikeSoFar {
  /** Joint probability of the answers so far by hypothesis, each free. */
  free: number[];
  /** The same given that they all go one way. */
  given: number[];
  way: 'yes' | 'no' | 'mixed' | null;
}

const nothing = (hypotheses: number): AlikeSoFar => ({
  free: new Array<number>(hypotheses).fill(1),
  given: new Array<number>(hypotheses).fill(1),
  way: null,
});

function joint({ free, given, way }: AlikeSoFar, { share, certainty }: NonNullable<Question['alike']>, h: number): number {
  const oneWay = way === null ? 1 : way === 'no' ? share[h] : way === 'yes' ? 1 - share[h] : 0;
  return certainty * given[h] * oneWay + (1 - certainty) * free[h];
}

/** The answers so far with one more. */
export function addAlike(before: AlikeSoFar | undefined, question: Question, word: string): AlikeSoFar {
  const list = question.outcomes[word];
  const soFar = before ?? nothing(list.length);
  const no = question.alike?.no ?? [];
  const isNo = no.includes(word);
  const way = isNo ? 'no' : 'yes';
  return {
    free: soFar.free.map((x, h) => x * list[h]),
    given: soFar.given.map((x, h) => {
      const mass = no.reduce((sum, w) => sum + (question.outcomes[w]?.[h] ?? 0), 0);
      return (x * list[h]) / Math.max(isNo ? mass : 1 - mass, 1e-9);
    }),
    way: soFar.way === null || soFar.way === way ? way : 'mixed',
  };
}

/** A question as it stands after the answers of its group so far. */
export function givenAlike(soFar: AlikeSoFar | undefined, question: Question): Question {
  const { alike } = question;
  if (!alike || !soFar || soFar.way === null) return question;
  const before = soFar.free.map((_, h) => Math.max(joint(soFar, alike, h), 1e-12));
  return {
    ...question,
    outcomes: Object.fromEntries(
      Object.keys(question.outcomes).map((word) => {
        const next = addAlike(soFar, question, word);
        return [word, before.map((p, h) => joint(next, alike, h) / p)];
      }),
    ),
  };
}
