import type { PerHypothesis, PerState, StateTable } from '../inference/index.ts';
import { isOwn, outside, type Assemblies, type Assembly } from './assembly.ts';
import states from './states.json';

/**
 * How the device stands under one hypothesis, by what was done to it: the fault as it was, the fault changed but not gone,
 * the fault gone with a part of the device, nothing wrong any more, or something else wrong.
 */
export const faultStates = ['same', 'altered', 'lacking', 'works', 'other'] as const;
export type FaultState = (typeof faultStates)[number];
export const stateIndex = Object.fromEntries(faultStates.map((s, k) => [s, k])) as Record<FaultState, number>;

/** What the tables of every question are made over. */
export interface Over {
  /** Probability of every hypothesis before anything was seen; sums to 1. */
  prior: PerHypothesis;
  /** The hypothesis that nothing is wrong, and the one that nothing known is. */
  none: number;
  unmodelled: number;
}

/** Something that can be looked at, with what every hypothesis says of the answer. */
export interface Question {
  /** The same for the same question, so that a second answer is known for what it is. */
  key: string;
  /** Probability of each outcome while the fault is as it was, by hypothesis; sums to 1 over the outcomes. */
  outcomes: Readonly<Record<string, PerHypothesis>>;
  /** Probability that a second answer only repeats the first while nothing was changed, 0 to 1. */
  repeats: number;
  /** A fact that it shares with other questions, given which all of them are answered independently. */
  rests?: SharedFact;
  /** What the answer is known to be already. */
  shown?: readonly Shown[];
  /** What is seen where the faulty part is away; half as a good device, half as any, where left out. */
  lacking?: 'works' | 'same';
  /** True where the outcomes have numbers of their own for the cause that is not known; else it shows what any would. */
  saysUnmodelled?: boolean;
  /** Outcomes by state where they are not those of the hypotheses: what a change did. */
  byState?: Readonly<Record<string, Readonly<Partial<Record<FaultState, PerHypothesis>>>>>;
}

/** What several questions rest on: where on a circuit a short sits, or that nothing there is short. */
export interface SharedFact {
  fact: string;
  /** Probability of each of its values, by hypothesis; the same for all questions that rest on it. */
  values: readonly PerHypothesis[];
  /** Probability of each outcome, by value and then hypothesis; over the values they are the question's outcomes. */
  given: Readonly<Record<string, readonly PerHypothesis[]>>;
}

/**
 * What is expected of a question before anything else of its fact is known.
 *
 * @param words the outcomes
 * @returns probability by outcome and hypothesis
 */
export function marginalsOf({ values, given }: SharedFact, words: readonly string[]): Record<string, number[]> {
  return Object.fromEntries(
    words.map((word) => [
      word,
      values[0].map((_, h) => values.reduce((sum, value, v) => sum + value[h] * given[word][v][h], 0)),
    ]),
  );
}

/** What an answer is known to be already: the same was answered before, or a run has shown it. */
export interface Shown {
  /** The answer is one of these. */
  words: readonly string[];
  /** How surely, 0 to 1. */
  certainty: number;
  /** Whether it holds in every state, or only while the fault is as it was. */
  holds: 'always' | 'while-same';
}

const mix = (a: number, b: number, share: number): number => (1 - share) * a + share * b;
const zeros = (n: number): number[] => new Array<number>(n).fill(0);

/**
 * Mean over the hypotheses that accuse something, as weighed before anything was seen: what any fault would show.
 *
 * @param list one probability a hypothesis
 * @param over prior by hypothesis, and which of them accuse nothing or what is not known
 * @returns 0 to 1
 */
export function meanOverFaults(list: ArrayLike<number>, { prior, none, unmodelled }: Over): number {
  let [sum, weight] = [0, 0];
  for (let h = 0; h < prior.length; h++) {
    if (h === none || h === unmodelled) continue;
    sum += prior[h] * list[h];
    weight += prior[h];
  }
  return weight > 0 ? sum / weight : 0;
}

/**
 * One outcome for every state and hypothesis, from what the hypotheses say while the fault is as it was.
 *
 * @param saysUnmodelled true where `same` has a number of its own for the cause that is not known
 */
function statesOf(
  same: ArrayLike<number>,
  over: Over,
  lacking: Question['lacking'] | 'half' = 'half',
  saysUnmodelled = false,
): number[][] {
  const n = over.prior.length;
  const [good, any] = [same[over.none], meanOverFaults(same, over)];
  const table = faultStates.map(() => zeros(n));
  for (let h = 0; h < n; h++) {
    // A cause that is not known shows what any would, unless the observation says more of it.
    const own = h === over.unmodelled && !saysUnmodelled ? any : same[h];
    table[stateIndex.same][h] = own;
    table[stateIndex.altered][h] = mix(own, any, states.alteredLikeAny);
    table[stateIndex.lacking][h] =
      lacking === 'works' ? good : lacking === 'same' ? own : mix(good, any, states.lackingLikeAny);
    table[stateIndex.works][h] = good;
    table[stateIndex.other][h] = any;
  }
  return table;
}

/**
 * The probability of every outcome of a question, for every state and hypothesis, with what is expected of the answer
 * already. Planning and entering both ask here. Sums to 1 over the outcomes.
 *
 * @param question outcomes by hypothesis, each column sums to 1
 * @param over the hypotheses and their prior
 * @returns by outcome, then by state of the fault, then by hypothesis
 */
export function likelihoodsOf(question: Question, over: Over): Record<string, PerState<PerHypothesis>> {
  const words = Object.keys(question.outcomes);
  let tables: Record<string, PerState<PerHypothesis>> = Object.fromEntries(
    words.map((word) => {
      const table = statesOf(question.outcomes[word], over, question.lacking, question.saysUnmodelled);
      const own = question.byState?.[word];
      if (own) faultStates.forEach((s, k) => own[s] && (table[k] = [...own[s]]));
      return [word, table];
    }),
  );
  for (const shown of question.shown ?? []) {
    const states = faultStates.map((_, k) => k).filter((k) => shown.holds === 'always' || k === stateIndex.same);
    tables = asShown(tables, shown, states);
  }
  return tables;
}

/**
 * An answer that is expected: with its certainty it is among the expected words, in their own proportions, and otherwise
 * as free as it was. So a fact that is entered twice is not two facts.
 */
function asShown(
  tables: Record<string, PerState<PerHypothesis>>,
  shown: Shown,
  rows: readonly number[],
): Record<string, PerState<PerHypothesis>> {
  const words = Object.keys(tables);
  const among = words.filter((word) => shown.words.includes(word));
  if (among.length === 0 || among.length === words.length) return tables;
  const out = Object.fromEntries(words.map((word) => [word, tables[word].map((row) => [...row])]));
  for (const s of rows)
    for (let h = 0; h < tables[words[0]][s].length; h++) {
      const mass = among.reduce((sum, word) => sum + tables[word][s][h], 0);
      for (const word of words) {
        const inside = among.includes(word) ? (mass > 0 ? tables[word][s][h] / mass : 1 / among.length) : 0;
        out[word][s][h] = shown.certainty * inside + (1 - shown.certainty) * tables[word][s][h];
      }
    }
  return out;
}

/**
 * A likelihood by hypothesis without outcomes of its own (a run's), with how far it only repeats an earlier one.
 *
 * @param same likelihood by hypothesis while the fault is as it was at first
 * @param over the hypotheses and their prior
 * @param repeats 0 to 1: how surely an earlier run showed the same
 * @returns by state of the fault, then by hypothesis
 */
export function relativeStates(
  same: PerHypothesis,
  over: Over,
  repeats = 0,
  held: Shown['holds'] = 'always',
): StateTable {
  const table = statesOf(same, over, 'half', true);
  if (repeats === 0) return table;
  return table.map((row, s) =>
    held === 'always' || s === stateIndex.same ? row.map((x) => repeats + (1 - repeats) * x) : row,
  );
}

/** A table in which a sound device that is used with something bad shows what any fault does. */
export function withAnyFault(table: StateTable, { none }: Pick<Over, 'none'>): StateTable {
  const other = table[stateIndex.other];
  return table.map((row, s) =>
    s === stateIndex.works || s === stateIndex.other ? row : row.map((p, h) => (h === none ? other[h] : p)),
  );
}

/**
 * A table over the states of a fault, told apart by the place where it sits: a fault whose thing is not in the device shows what a
 * sound device shows.
 *
 * @param tables by place; one for all of them where they are alike
 * @param assembly how the device was put together
 * @returns rows as in a chain: the states of the first place, then those of the second
 */
export function overPlaces(
  tables: readonly StateTable[],
  assembly: Assembly,
  { things }: Assemblies,
  over: Pick<Over, 'none'>,
): StateTable {
  return [...things, null].flatMap((thing, place) => {
    const table = tables[tables.length > 1 ? place : 0];
    const [sound, other] = [table[stateIndex.works], table[stateIndex.other]];
    if (!isOwn(assembly, thing)) return faultStates.map((state) => (state === 'other' ? other : sound));
    return thing?.id === outside && tables.length === 1 ? withAnyFault(table, over) : table;
  });
}
