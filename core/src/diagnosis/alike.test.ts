import fc from 'fast-check';
import type { Question } from '../observation/index.ts';
import { addAlike, givenAlike, type AlikeSoFar } from './alike.ts';

const p = fc.double({ min: 0.02, max: 0.98, noNaN: true });
const question = (key: string, no: number[], certainty: number): Question => ({
  key,
  repeats: 0,
  alike: { group: 'g', no: ['missing', 'low'], certainty },
  outcomes: {
    missing: no.map((x) => 0.7 * x),
    low: no.map((x) => 0.3 * x),
    present: no.map((x) => 1 - x),
  },
});
const anyNo = fc.array(p, { minLength: 2, maxLength: 2 });
const anyWord = fc.constantFrom('missing', 'low', 'present');

/** Probability of a list of answers, one after the other, by hypothesis. */
function chained(answers: [Question, string][]): number[] {
  let soFar: AlikeSoFar | undefined;
  let product = [1, 1];
  for (const [q, word] of answers) {
    const given = givenAlike(soFar, q).outcomes[word];
    product = product.map((x, h) => x * given[h]);
    soFar = addAlike(soFar, q, word);
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
      expect(givenAlike(undefined, a)).toBe(a);
      const given = givenAlike(addAlike(undefined, a, word), b).outcomes;
      [0, 1].forEach((h) => expect(Object.values(given).reduce((sum, list) => sum + list[h], 0)).toBeCloseTo(1, 9));
      // What b says is the mean of what it says after each answer to a.
      [0, 1].forEach((h) => {
        const mean = ['missing', 'low', 'present'].reduce(
          (sum, w) => sum + a.outcomes[w][h] * givenAlike(addAlike(undefined, a, w), b).outcomes.missing[h],
          0,
        );
        expect(mean).toBeCloseTo(b.outcomes.missing[h], 9);
      });
    }),
  );
});

test('worked example: ten rails that stand are hardly more than one', () => {
  const stands = (k: number): [Question, string] => [question(`r${k}`, [0.5, 0.1], 0.8), 'present'];
  const ratio = (n: number): number => {
    const [x, y] = chained(Array.from({ length: n }, (_, k) => stands(k)));
    return y / x;
  };
  expect(ratio(1)).toBeCloseTo(0.9 / 0.5, 9);
  // Free they would be (0.9 / 0.5) ** 10 = 357 to 1.
  expect(ratio(10)).toBeLessThan(2.5);
});
