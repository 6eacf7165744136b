import { meanOverFaults, type Over, type Question } from './question.ts';

/** In how many steps it is told apart how far a device starts. */
const steps = 20;

/**
 * A look at a start, which rests on how far the device starts, as all looks at a start do: with some certainty each of them says no
 * up to the step that is its own probability of no, so that a dark screen and a silent computer are hardly more than one;
 * otherwise each is free.
 *
 * @param no the outcomes that say no; all others say yes
 * @param certainty that they all go one way, 0 to 1
 */
export function startingAlike(question: Question, no: readonly string[], certainty: number, over: Over): Question {
  const words = Object.keys(question.outcomes);
  // A cause that is not known shows what any would.
  const known = words.map((word) =>
    question.outcomes[word].map((p, h) =>
      h === over.unmodelled && !question.saysUnmodelled ? meanOverFaults(question.outcomes[word], over) : p,
    ),
  );
  const outcomes = Object.fromEntries(words.map((word, w) => [word, known[w]]));
  const list = (of: (h: number) => number): number[] => over.prior.map((_, h) => of(h));
  const saysNo = list((h) => no.reduce((sum, word) => sum + (outcomes[word]?.[h] ?? 0), 0));
  const at = (step: number, h: number): number => Math.min(1, Math.max(0, saysNo[h] * steps - step));
  const given = (word: string): number[][] => [
    ...Array.from({ length: steps }, (_, step) =>
      list((h) =>
        no.includes(word)
          ? (at(step, h) * outcomes[word][h]) / Math.max(saysNo[h], 1e-9)
          : ((1 - at(step, h)) * outcomes[word][h]) / Math.max(1 - saysNo[h], 1e-9),
      ),
    ),
    outcomes[word],
  ];
  return {
    ...question,
    saysUnmodelled: true,
    outcomes,
    rests: {
      fact: 'start',
      values: [...Array.from({ length: steps }, () => list(() => certainty / steps)), list(() => 1 - certainty)],
      given: Object.fromEntries(words.map((word) => [word, given(word)])),
    },
  };
}
