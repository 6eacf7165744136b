import fc from 'fast-check';
import type { Question } from '../observation/index.ts';
import { readingOf, typedCase } from '../testing/cases.ts';
import { assess } from './index.ts';
import { addAnswer, givenFact, type FactSoFar } from './shared-fact.ts';

const words = ['short', 'normal'] as const;
const values = [
  [0.6, 0.1],
  [0.3, 0.1],
  [0.1, 0.8],
];
/** A question at a point, by how likely it reads short under each value of the fact. */
const at = (key: string, short: readonly number[]): Question => {
  const given = { short: short.map((p) => [p, p]), normal: short.map((p) => [1 - p, 1 - p]) };
  const outcome = (word: (typeof words)[number]): number[] =>
    [0, 1].map((h) => given[word].reduce((sum, list, v) => sum + values[v][h] * list[h], 0));
  return {
    key,
    repeats: 0,
    rests: { fact: 'f', values, given },
    outcomes: { short: outcome('short'), normal: outcome('normal') },
  };
};
const p = fc.double({ min: 0.01, max: 0.99, noNaN: true });
const answer = fc.tuple(fc.tuple(p, p, p), fc.constantFrom(...words));

/** Probability of a list of answers, one after the other, by hypothesis. */
function chained(answers: [readonly number[], (typeof words)[number]][]): number[] {
  let soFar: FactSoFar | undefined;
  let product = [1, 1];
  answers.forEach(([short, word], k) => {
    const question = at(`q${k}`, short);
    const { outcomes } = givenFact(soFar, question);
    [0, 1].forEach((h) => expect(outcomes.short[h] + outcomes.normal[h]).toBeCloseTo(1, 9));
    product = product.map((x, h) => x * outcomes[word][h]);
    soFar = addAnswer(soFar, question.rests!, word);
  });
  return product;
}

test('answers that rest on one fact are joined in any order, and each alone keeps its probability', () => {
  fc.assert(
    fc.property(fc.array(answer, { minLength: 1, maxLength: 6 }), (list) => {
      const [one, other] = [chained(list), chained([...list].reverse())];
      one.forEach((x, h) => expect(x).toBeCloseTo(other[h], 9));
      expect(chained(list.slice(0, 1))[0]).toBeCloseTo(at('q', list[0][0]).outcomes[list[0][1]][0], 9);
    }),
  );
});

test('worked example: two points of one net', () => {
  // 0.6 · 0.9² + 0.3 · 0.1² + 0.1 · 0.05² where the fault is at the first place.
  const [first] = chained([
    [[0.9, 0.1, 0.05], 'short'],
    [[0.9, 0.1, 0.05], 'short'],
  ]);
  expect(first).toBeCloseTo(0.6 * 0.81 + 0.3 * 0.01 + 0.1 * 0.0025, 12);
});

test('a good neighbour leaves a chip that pulls its supply down as likely as the supply itself', () => {
  const short = readingOf({ mode: 'resistance', value: 1.6, where: 'capacitor by the port', circuit: 'rail.standby' });
  const good = readingOf({
    mode: 'resistance',
    value: 4700,
    where: 'coil of another converter',
    circuit: 'rail.standby',
  });
  const ratio = (readings: (typeof short)[]): number => {
    const { value, shapes } = typedCase('laptop', ['usb-c: 5V 8mA hold'], { readings });
    const { circuits } = assess(value, shapes);
    const of = (id: string): number => circuits.find((c) => c.id === id)?.p ?? 0;
    return of('core.chipset') / of('rail.standby');
  };
  expect(ratio([short, good]) / ratio([short])).toBeGreaterThan(0.8);
  expect(ratio([short, good]) / ratio([short])).toBeLessThan(1.5);
});
