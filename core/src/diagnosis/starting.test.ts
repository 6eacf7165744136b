import fc from 'fast-check';
import { startingAlike, type Over, type Question } from '../observation/index.ts';
import { addAnswer, givenFact, type FactSoFar } from './shared-fact.ts';

const p = fc.double({ min: 0.02, max: 0.98, noNaN: true });
const over: Over = { prior: [0.5, 0.5], none: -1, unmodelled: -1 };
const question = (key: string, no: number[], certainty: number): Question =>
  startingAlike(
    {
      key,
      repeats: 0,
      outcomes: {
        missing: no.map((x) => 0.7 * x),
        low: no.map((x) => 0.3 * x),
        present: no.map((x) => 1 - x),
      },
    },
    ['missing', 'low'],
    certainty,
    over,
  );
const anyNo = fc.array(p, { minLength: 2, maxLength: 2 });
const anyWord = fc.constantFrom('missing', 'low', 'present');

/** Probability of a list of answers, one after the other, by hypothesis. */
function chained(answers: [Question, string][]): number[] {
  let soFar: FactSoFar | undefined;
  let product = [1, 1];
  for (const [q, word] of answers) {
    const given = givenFact(soFar, q).outcomes[word];
    product = product.map((x, h) => x * given[h]);
    if (q.rests) soFar = addAnswer(soFar, q.rests, word);
  }
  return product;
}

test('the order of answers that share a fact does not matter', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(anyNo, anyWord), { minLength: 2, maxLength: 5 }), p, (list, certainty) => {
      const answers = list.map(([no, word], k): [Question, string] => [question(`q${k}`, no, certainty), word]);
      const [one, other] = [chained(answers), chained([...answers].reverse())];
      one.forEach((x, h) => expect(x).toBeCloseTo(other[h], 9));
    }),
  );
});

test('outcomes go on summing to one, and each answer alone keeps its probability', () => {
  fc.assert(
    fc.property(anyNo, anyNo, anyWord, p, (first, second, word, certainty) => {
      const [a, b] = [question('a', first, certainty), question('b', second, certainty)];
      expect(givenFact(undefined, a)).toBe(a);
      const after = (w: string): FactSoFar => (a.rests ? addAnswer(undefined, a.rests, w) : []);
      const given = givenFact(after(word), b).outcomes;
      [0, 1].forEach((h) => expect(Object.values(given).reduce((sum, list) => sum + list[h], 0)).toBeCloseTo(1, 9));
      // What b says is the mean of what it says after each answer to a.
      [0, 1].forEach((h) => {
        const mean = ['missing', 'low', 'present'].reduce(
          (sum, w) => sum + a.outcomes[w][h] * givenFact(after(w), b).outcomes.missing[h],
          0,
        );
        expect(mean).toBeCloseTo(b.outcomes.missing[h], 9);
      });
    }),
  );
});

test('worked example: ten looks at a start that say yes are hardly more than one', () => {
  const yes = (k: number): [Question, string] => [question(`look${k}`, [0.5, 0.1], 0.8), 'present'];
  const ratio = (n: number): number => {
    const [x, y] = chained(Array.from({ length: n }, (_, k) => yes(k)));
    return y / x;
  };
  expect(ratio(1)).toBeCloseTo(0.9 / 0.5, 9);
  // Free they would be (0.9 / 0.5) ** 10 = 357 to 1.
  expect(ratio(10)).toBeLessThan(2.5);
});
