import { circuitIds } from '../catalogue/index.ts';
import { sayAction, type Case } from '../case/index.ts';
import { recalibratedP, type Memory } from '../library/index.ts';
import {
  moveStates,
  normaliseLogs,
  observeOutcome,
  predictiveProbability,
  sumBy,
  startChain,
  type Chain,
  type StateTable,
  type PerCircuit,
  type PerHypothesis,
  type PerState,
} from '../inference/index.ts';
import {
  expectedQuestion,
  faultStates,
  isLeftOut,
  likelihoodsOf,
  observationKinds,
  seenNow,
  spontaneousOf,
  stateIndex,
  transitionOf,
  worksAtMost,
  type Hint,
  type History,
  type LeftOut,
  type Observed,
  type Question,
} from '../observation/index.ts';
import type { Shape } from '../shape/index.ts';
import { addAlike, givenAlike, type AlikeSoFar } from './alike.ts';
import settings from './belief.json';
import { addAnswer, givenFact, type FactSoFar } from './shared-fact.ts';
import { historyOf, type AssessOptions } from './history.ts';

/** Under every probability that is not nothing, above what underflows. */
const smallest = 1e-300;

/** One thing that was weighed, with what it added. */
interface WeighedObservation {
  kind: string;
  source: string;
  sentence: string;
  epoch: number;
  /** Probability of every hypothesis before it. */
  before: PerHypothesis;
  /** Natural log of its likelihood by hypothesis, up to a constant. */
  increments: PerHypothesis;
}

/** The device as it is after the last change. Sums to 1. */
export interface Now {
  works: number;
  'same-fault': number;
  'other-fault': number;
}

/** An answer that was given, for when the same is asked again. */
interface Answer {
  word: string;
  epoch: number;
}

/** Everything that is believed of a device after its whole history. */
export interface Belief {
  history: History;
  chain: Chain;
  /** By hypothesis; sums to 1. Corrected by the shop's own calls where it has a correction: nothing reads it without. */
  posterior: PerHypothesis;
  /** By circuit, as it was before that correction. */
  uncorrected: PerCircuit;
  now: Now;
  weighed: WeighedObservation[];
  leftOut: LeftOut[];
  /** Confirmed cases by how likely this one repeats them, the likeliest first. */
  repeats: { id: string; p: number }[];
  /** True where the first circuit leads only by what the shop remembers. */
  byMemory: boolean;
  /** The state of the device that the next observation belongs to: 0 before any change. */
  epoch: number;
  /** Probability of every outcome of a question asked now, by hypothesis: what entering that outcome would add. */
  ask: (question: Question, hints?: readonly Hint[]) => Record<string, PerHypothesis>;
  /** The same after one more change. */
  askAfter: (question: Question, transition: (h: number) => number[][]) => Record<string, PerHypothesis>;
}

/** What is all but excluded does not change which test is best, and asking the twin about it takes time. */
const plausibleFrom = 0.001;

/** What is remembered while a history is gone through. */
class Answers {
  private readonly answers = new Map<string, Answer[]>();
  private readonly alike = new Map<string, AlikeSoFar>();
  private readonly facts = new Map<string, FactSoFar>();
  constructor(private readonly history: History) {}

  /** What is expected of an answer because the same was asked before. */
  private hints(question: Question, epoch: number): Hint[] {
    const last = this.answers.get(question.key)?.at(-1);
    if (!last) return [];
    const holds = last.epoch === epoch ? 'always' : 'while-same';
    return [{ words: [last.word], certainty: question.repeats, holds }];
  }

  private group(question: Question, epoch: number): string | null {
    const group = question.rests?.fact ?? question.alike?.group;
    return group === undefined ? null : `${epoch} ${group}`;
  }

  tables(question: Question, epoch: number, hints: readonly Hint[]): Record<string, PerState<PerHypothesis>> {
    const group = this.group(question, epoch);
    const before = this.hints(question, epoch);
    if (group === null) return likelihoodsOf(question, this.history.over, [...hints, ...before]);
    if (question.rests)
      return likelihoodsOf(givenFact(this.facts.get(group), question), this.history.over, [...hints, ...before]);
    const asked = givenAlike(this.alike.get(group), expectedQuestion(question, this.history.over, hints));
    return likelihoodsOf(asked, this.history.over, before);
  }

  remember(question: Question, word: string, epoch: number, hints: readonly Hint[]): void {
    const known = this.answers.get(question.key) ?? [];
    const group = this.group(question, epoch);
    // The same point read twice is one answer of its group.
    const isFirst = !known.some((a) => a.epoch === epoch);
    if (group !== null && isFirst && question.rests)
      this.facts.set(group, addAnswer(this.facts.get(group), question.rests, word));
    else if (group !== null && isFirst)
      this.alike.set(
        group,
        addAlike(this.alike.get(group), expectedQuestion(question, this.history.over, hints), word),
      );
    this.answers.set(question.key, [...known, { word, epoch }]);
  }
}

/**
 * Weighs everything in a case, in the order of its history: what was seen before any change, what was changed, what was
 * seen then. The posterior is the prior plus all that was seen; beside it stands how the device is now.
 *
 * @param shapes by run id; a run without a shape is left out
 */
export function believe(given: Case, shapes: ReadonlyMap<string, Shape>, options: AssessOptions = {}): Belief {
  const { history, reasons, base } = historyOf(given, shapes, options);
  const entries = observationKinds.flatMap((kind) => kind.entries(history));
  const answers = new Answers(history);
  const weighed: WeighedObservation[] = [];
  let current = base;
  const note: Note = ({ kind, source, sentence, epoch }, increments) => {
    weighed.push({ kind, source, sentence, epoch, before: current, increments });
    current = normaliseLogs(current.map((p, h) => Math.log(Math.max(p, smallest)) + increments[h]));
  };
  for (const reason of reasons)
    note(
      { kind: 'intake', source: reason.source, sentence: reason.sentence, epoch: 0 },
      history.space.circuitOf.map((c) => reason.logs[c]),
    );
  const observed = entries.filter((e): e is Observed => !isLeftOut(e));
  const chain = goThrough(history, observed, answers, note);
  const withoutMemory = current;
  const remembered = options.memory ?? null;
  if (remembered) {
    const counts = 1 - settledBy(weighed, base, history.space.circuitOf);
    note(
      { kind: 'confirmed', source: 'library', sentence: remembered.sentence, epoch: 0 },
      history.space.circuitOf.map((c) => counts * remembered.logs[c]),
    );
  }
  const uncorrected = sumBy(current, history.space.circuitOf, circuitIds.length);
  if (options.recalibration) {
    const corrected = recalibratedP(uncorrected, options.recalibration);
    const logs = uncorrected.map((p, c) => Math.log(Math.max(corrected[c], smallest) / Math.max(p, smallest)));
    note(
      { kind: 'correction', source: 'calls', sentence: 'adjusted by past results', epoch: 0 },
      history.space.circuitOf.map((c) => logs[c]),
    );
  }
  const epoch = history.value.actions.length;
  const ask = (of: Chain, at: number, question: Question, hints: readonly Hint[] = []): Record<string, PerHypothesis> =>
    Object.fromEntries(
      Object.entries(answers.tables(question, at, hints)).map(([word, table]) => [
        word,
        predictiveProbability(of, table as StateTable),
      ]),
    );
  return {
    history: { ...history, plausible: (h) => current[h] > plausibleFrom },
    chain,
    posterior: current,
    uncorrected,
    now: nowOf(history, chain, current),
    weighed,
    leftOut: entries.filter(isLeftOut),
    repeats: repeatsOf(remembered, current, history.space.circuitOf),
    byMemory: leaderOf(withoutMemory, history.space.circuitOf) !== leaderOf(current, history.space.circuitOf),
    epoch,
    ask: (question, hints) => ask(chain, epoch, question, hints),
    askAfter: (question, transition) => ask(moveStates(chain, transition), epoch + 1, question),
  };
}

/** Confirmed cases by how likely the case in hand is one of them once more. */
function repeatsOf(
  memory: Memory | null,
  posterior: PerHypothesis,
  circuitOf: readonly number[],
): { id: string; p: number }[] {
  if (!memory) return [];
  const circuits = sumBy(posterior, circuitOf, circuitIds.length);
  const cases = [...memory.counts];
  return cases
    .map(([id, { circuit, count }]) => {
      const all = cases.reduce((sum, [, other]) => sum + (other.circuit === circuit ? other.count : 0), 0);
      return { id, p: (circuits[circuitIds.indexOf(circuit)] * count) / (settings.newCauses + all) };
    })
    .sort((a, b) => b.p - a.p);
}

function leaderOf(posterior: PerHypothesis, circuitOf: readonly number[]): number {
  const circuits = sumBy(posterior, circuitOf, circuitIds.length);
  return circuits.reduce((top, p, c) => (p > circuits[top] ? c : top), 0);
}

type Note = (item: Pick<Observed, 'kind' | 'source' | 'sentence' | 'epoch'>, increments: PerHypothesis) => void;

/** Change by change, and what was seen after each: how the device is at the end of it, by hypothesis. */
function goThrough(history: History, observed: readonly Observed[], answers: Answers, note: Note): Chain {
  const { value, space } = history;
  let chain = startChain(
    space.hypotheses.map(() => stateIndex.same),
    faultStates.length,
  );
  for (let epoch = 0; epoch <= value.actions.length; epoch++) {
    const action = epoch > 0 ? value.actions[epoch - 1] : null;
    if (action) chain = moveStates(chain, transitionOf(history, action));
    const spontaneous = spontaneousOf(history, action?.kind === 'burn');
    const seen = observed.filter((o) => o.epoch === epoch);
    // What was changed before anything was seen here did not help: the device would not be here.
    if (action && seen.length > 0 && !observed.some((o) => o.epoch < epoch)) {
      const step = stillComplainedOf(chain);
      const sentence = `${sayAction(action)} before it came here: it still failed`;
      note({ kind: 'change', source: `action:${action.id}`, sentence, epoch }, step.increments);
      chain = step.chain;
    }
    const [runs, others] = inOrder(history, seen);
    for (const [k, item] of runs.entries()) {
      if (k > 0 && epoch > 0) chain = moveStates(chain, spontaneous);
      chain = take(item, chain, answers, note);
    }
    for (const item of others) chain = take(item, chain, answers, note);
  }
  return chain;
}

/** A device that was brought in after changes elsewhere: what it is complained of was not gone with them. */
function stillComplainedOf(chain: Chain): ReturnType<typeof observeOutcome> {
  const table = faultStates.map((state) => chain.logs.map(() => (state === 'works' ? settings.broughtInWhileWell : 1)));
  return observeOutcome(chain, table);
}

/** One observation into the chain. */
function take(item: Observed, chain: Chain, answers: Answers, note: Note): Chain {
  const table = item.answer
    ? answers.tables(item.answer.question, item.epoch, item.answer.hints)[item.answer.word]
    : item.likelihood;
  if (!table) return chain;
  if (item.answer) answers.remember(item.answer.question, item.answer.word, item.epoch, item.answer.hints);
  const step = observeOutcome(chain, table);
  note(item, step.increments);
  return step.chain;
}

/** Kinds of observation that are measurements, or facts as hard: what they settle no memory turns round. */
const measuredKinds = new Set(['reading', 'injection', 'heat', 'change', 'halves', 'unplug', 'comparison']);

/**
 * How far measured facts alone settle which circuit it is: what they leave to their leader, beyond what it had before.
 *
 * @returns 0 where nothing was measured, up to 1
 */
function settledBy(weighed: readonly WeighedObservation[], base: PerHypothesis, circuitOf: readonly number[]): number {
  const facts = weighed.filter((w) => measuredKinds.has(w.kind));
  if (facts.length === 0) return 0;
  const logs = facts.reduce(
    (sum, { increments }) => sum.map((x, h) => x + increments[h]),
    base.map((p) => Math.log(Math.max(p, smallest))),
  );
  const count = Math.max(...circuitOf) + 1;
  const [after, before] = [sumBy(normaliseLogs(logs), circuitOf, count), sumBy(base, circuitOf, count)];
  const leader = after.reduce((top, p, c) => (p > after[top] ? c : top), 0);
  return Math.max(0, (after[leader] - before[leader]) / (1 - before[leader]));
}

/** Runs in the order in which they were made; everything else as its kinds are registered. */
function inOrder(history: History, items: readonly Observed[]): [runs: Observed[], others: Observed[]] {
  const place = new Map(history.value.runs.map((r, k) => [`run:${r.id}`, k]));
  const isRun = (o: Observed): boolean => o.kind === 'run' || o.kind === 'change';
  const runs = items.filter(isRun).sort((a, b) => (place.get(a.source) ?? 0) - (place.get(b.source) ?? 0));
  return [runs, items.filter((o) => !isRun(o))];
}

function nowOf(history: History, chain: Chain, posterior: PerHypothesis): Now {
  const { space } = history;
  const now: Now = { works: 0, 'same-fault': 0, 'other-fault': 0 };
  // A sound device that failed when it was tried last does so by what it is used with: that is still so.
  const fails = history.value.actions.length > 0 && seenNow(history).last?.works === false;
  posterior.forEach((p, h) => {
    const of = (s: keyof typeof stateIndex): number => p * chain.states[stateIndex[s]][h];
    const still = of('same') + of('altered') + of('lacking');
    now[h === space.none && !fails ? 'works' : 'same-fault'] += still;
    now.works += of('works');
    now['other-fault'] += of('other');
  });
  const surplus = now.works - worksAtMost(history);
  if (surplus <= 0) return now;
  return { ...now, works: now.works - surplus, 'same-fault': now['same-fault'] + surplus };
}
