import type { PerHypothesis } from '../inference/index.ts';
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
  const outcomes: Record<string, PerHypothesis> = sayingUnmodelled(question, over).outcomes;
  const list = (of: (h: number) => number): number[] => over.prior.map((_, h) => of(h));
  const saysNo = list((h) => no.reduce((sum, word) => sum + (outcomes[word]?.[h] ?? 0), 0));
  const at = (step: number, h: number): number => Math.min(1, Math.max(0, saysNo[h] * steps - step));
  const given = (word: string): PerHypothesis[] => [
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
      values: stepsOf(certainty, over),
      given: Object.fromEntries(words.map((word) => [word, given(word)])),
    },
  };
}

/** Every step is as likely as any other, and with the rest of the certainty there is none. */
const stepsOf = (certainty: number, { prior }: Over): number[][] =>
  [...Array.from({ length: steps }, () => certainty / steps), 1 - certainty].map((p) => Array.from(prior, () => p));

/** A question that says nothing of how far the device starts. */
export function freeStart(question: Question, certainty: number, over: Over): Question {
  const free = sayingUnmodelled(question, over);
  const values = stepsOf(certainty, over);
  const given = Object.entries(free.outcomes).map(([word, list]) => [word, values.map(() => list)]);
  return { ...free, rests: { fact: 'start', values, given: Object.fromEntries(given) } };
}

/** A cause that is not known shows what any would, said as numbers of its own. */
function sayingUnmodelled(question: Question, over: Over): Question {
  if (question.saysUnmodelled) return question;
  const outcomes = Object.entries(question.outcomes).map(([word, list]) => [
    word,
    list.map((p, h) => (h === over.unmodelled ? meanOverFaults(list, over) : p)),
  ]);
  return { ...question, saysUnmodelled: true, outcomes: Object.fromEntries(outcomes) as Question['outcomes'] };
}
