import { circuitIds } from '../catalogue/index.ts';
import { actionDone, type Action, type Case } from '../case/index.ts';
import { recalibratedP, type Memory } from '../library/index.ts';
import {
  moveStates,
  normaliseLogs,
  observeOutcome,
  predictiveProbability,
  splitPlace,
  sumBy,
  startChain,
  type Chain,
  type PerCircuit,
  type PerHypothesis,
  type StateTable,
} from '../inference/index.ts';
import {
  faultStates,
  isLeftOut,
  isOwn,
  likelihoodsOf,
  observationKinds,
  overPlaces,
  seenNow,
  spontaneousOf,
  outside,
  stateIndex,
  transitionOf,
  withAnyFault,
  type Assembly,
  type History,
  type LeftOut,
  type Observed,
  type Question,
  type Shown,
  type Thing,
} from '../observation/index.ts';
import type { Reason } from '../reasons/index.ts';
import type { Shape } from '../shape/index.ts';
import settings from './belief.json';
import { addAnswer, givenFact, type FactSoFar } from './shared-fact.ts';
import { historyOf, type AssessOptions } from './history.ts';

/** Under every probability that is not nothing, above what underflows. */
const smallest = 1e-300;

/** One thing that was weighed, with what it added. */
interface WeighedObservation {
  kind: string;
  source: string;
  reason: Reason;
  epoch: number;
  /** What says the same as another of the same words: one answer to one fact of one state. Null where it stands alone. */
  alike: string | null;
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
  /** How the device was put together when it was given. */
  assembly: Assembly;
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
  ask: (question: Question) => Record<string, PerHypothesis>;
  /** The same after one more change. */
  askAfter: (question: Question, action: Action) => Record<string, PerHypothesis>;
}

/** What is all but excluded does not change which test is best, and asking the twin about it takes time. */
const plausibleFrom = 0.001;

/** What is remembered while a history is gone through. */
class Answers {
  private readonly answers = new Map<string, Answer[]>();
  private readonly facts = new Map<string, FactSoFar>();
  constructor(private readonly history: History) {}

  /** What is expected of an answer because the same was asked before. */
  private shownBy(last: Answer | undefined, question: Question, epoch: number): Shown[] {
    if (!last) return [];
    const holds = last.epoch === epoch ? 'always' : 'while-same';
    return [{ words: [last.word], certainty: question.repeats, holds }];
  }

  private factOf({ rests }: Question, epoch: number): string | null {
    return rests ? `${epoch} ${rests.fact}` : null;
  }

  /**
   * What every answer is worth, by the place of the fault: what was answered before counts where the fault was in the device then as
   * it is now.
   *
   * @param assembly how the device is put together when it is asked
   * @param things what was ever moved
   * @returns by outcome, one table for all places or one for each
   */
  tables(
    question: Question,
    epoch: number,
    assembly: Assembly,
    things: readonly Thing[],
  ): Record<string, StateTable[]> {
    const { over } = this.history;
    const fact = this.factOf(question, epoch);
    const asked = fact === null ? question : givenFact(this.facts.get(fact), question);
    const known = this.answers.get(question.key) ?? [];
    const made = new Map<Answer | undefined, Record<string, StateTable>>();
    const places = [...things, null];
    const byPlace = places.map((thing) => {
      const last = known.findLast((a) => isOwn(a.assembly, thing) === isOwn(assembly, thing));
      const shown = [...(question.shown ?? []), ...this.shownBy(last, question, epoch)];
      const table = made.get(last) ?? likelihoodsOf({ ...asked, shown }, over);
      made.set(last, table);
      return table;
    });
    const words = Object.keys(byPlace[0]);
    if (made.size === 1) return Object.fromEntries(words.map((word) => [word, [byPlace[0][word]]]));
    return Object.fromEntries(
      words.map((word) => [
        word,
        byPlace.map((of, k) => (places[k]?.id === outside ? withAnyFault(of[word], over) : of[word])),
      ]),
    );
  }

  remember(question: Question, word: string, epoch: number, assembly: Assembly): void {
    const known = this.answers.get(question.key) ?? [];
    const fact = this.factOf(question, epoch);
    // The same point read twice is one answer.
    if (fact !== null && question.rests && !known.some((a) => a.epoch === epoch))
      this.facts.set(fact, addAnswer(this.facts.get(fact), question.rests, word));
    this.answers.set(question.key, [...known, { word, epoch, assembly }]);
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
  const note: Note = ({ kind, source, reason, epoch }, increments, alike = null) => {
    weighed.push({ kind, source, reason, epoch, alike, before: current, increments });
    current = normaliseLogs(current.map((p, h) => Math.log(Math.max(p, smallest)) + increments[h]));
  };
  for (const { source, reason, logs } of reasons)
    note(
      { kind: 'intake', source, reason, epoch: 0 },
      history.space.circuitOf.map((c) => logs[c]),
    );
  const observed = entries.filter((e): e is Observed => !isLeftOut(e));
  const chain = goThrough(history, observed, answers, note);
  const withoutMemory = current;
  const remembered = options.memory ?? null;
  if (remembered) {
    note(
      { kind: 'confirmed', source: 'library', reason: remembered.reason, epoch: 0 },
      history.space.circuitOf.map((c) => remembered.logs[c]),
    );
  }
  const uncorrected = sumBy(current, history.space.circuitOf, circuitIds.length);
  if (options.recalibration) {
    const corrected = recalibratedP(uncorrected, options.recalibration);
    const logs = uncorrected.map((p, c) => Math.log(Math.max(corrected[c], smallest) / Math.max(p, smallest)));
    note(
      { kind: 'correction', source: 'calls', reason: { id: 'correction', values: {} }, epoch: 0 },
      history.space.circuitOf.map((c) => logs[c]),
    );
  }
  const epoch = history.value.actions.length;
  const { assemblies } = history;
  const ask = (
    { assemblies: put, over }: History,
    of: Chain,
    assembly: Assembly,
    question: Question,
  ): Record<string, PerHypothesis> =>
    Object.fromEntries(
      Object.entries(answers.tables(question, of === chain ? epoch : epoch + 1, assembly, put.things)).map(
        ([word, tables]) => [word, predictiveProbability(of, overPlaces(tables, assembly, put, over))],
      ),
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
    ask: (question) => ask(history, chain, history.assemblies.after(epoch), question),
    askAfter: (question, action) => {
      const planned = assemblies.planned(action);
      const wider = { ...history, assemblies: planned.assemblies };
      const apart = planned.assemblies.things.slice(assemblies.things.length).reduce((of, thing, k) => {
        const before = elsewhere(history, planned.assemblies.things.slice(0, assemblies.things.length + k));
        const share = history.space.hypotheses.map((h, i) => thing.share(h.circuit) / Math.max(before[i], smallest));
        return splitPlace(of, share, faultStates.length);
      }, chain);
      return ask(wider, moved(wider, apart, action), planned.assembly, question);
    },
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

type Note = (
  item: Pick<Observed, 'kind' | 'source' | 'reason' | 'epoch'>,
  increments: PerHypothesis,
  alike?: string | null,
) => void;

/** By hypothesis, what is left of its faults where none of the things is. */
const elsewhere = ({ space }: History, things: readonly Thing[]): PerHypothesis =>
  space.hypotheses.map((h) => 1 - things.reduce((sum, thing) => sum + thing.share(h.circuit), 0));

/** Change by change, and what was seen after each: how the device is at the end of it, by hypothesis. */
function goThrough(history: History, observed: readonly Observed[], answers: Answers, note: Note): Chain {
  const { value, space } = history;
  const { things } = history.assemblies;
  let chain = startChain(
    space.hypotheses.map(() => stateIndex.same),
    faultStates.length,
    [...things.map((thing) => space.hypotheses.map((h) => thing.share(h.circuit))), elsewhere(history, things)],
  );
  for (let epoch = 0; epoch <= value.actions.length; epoch++) {
    const action = epoch > 0 ? value.actions[epoch - 1] : null;
    if (action) chain = moved(history, chain, action);
    const spontaneous = spontaneousOf(history, action?.kind === 'burn');
    const seen = observed.filter((o) => o.epoch === epoch);
    // What was changed before anything was seen here did not help: the device would not be here.
    if (action && seen.length > 0 && !observed.some((o) => o.epoch < epoch)) {
      const step = stillComplainedOf(history, chain, epoch);
      const reason: Reason = { id: 'failed-before', values: { action: actionDone(action) } };
      note({ kind: 'change', source: `action:${action.id}`, reason, epoch }, step.increments);
      chain = step.chain;
    }
    const [runs, others] = inOrder(history, seen);
    for (const [k, item] of runs.entries()) {
      if (k > 0 && epoch > 0) chain = moveStates(chain, spontaneous, things.length + 1);
      chain = take(history, item, chain, answers, note);
    }
    for (const item of others) chain = take(history, item, chain, answers, note);
  }
  return chain;
}

/** A device that was brought in after changes elsewhere: what it is complained of was not gone with them. */
function stillComplainedOf(
  { assemblies, over }: History,
  chain: Chain,
  epoch: number,
): ReturnType<typeof observeOutcome> {
  const table = faultStates.map((state) => chain.logs.map(() => (state === 'works' ? settings.broughtInWhileWell : 1)));
  return observeOutcome(chain, overPlaces([table], assemblies.after(epoch), assemblies, over));
}

/** The chain after a change. */
const moved = ({ assemblies, ...history }: History, chain: Chain, action: Action): Chain =>
  moveStates(chain, transitionOf({ assemblies, ...history }, action), assemblies.things.length + 1);

/** One observation into the chain. */
function take(history: History, item: Observed, chain: Chain, answers: Answers, note: Note): Chain {
  const { assemblies, over } = history;
  const assembly = item.assembly ?? assemblies.after(item.epoch);
  const { question, word } = item.answer ?? {};
  const tables = question
    ? answers.tables(question, item.epoch, assembly, assemblies.things)[word ?? '']
    : item.likelihood;
  if (!tables?.[0]) return chain;
  if (question) answers.remember(question, word ?? '', item.epoch, assembly);
  const step = observeOutcome(chain, overPlaces(tables, assembly, assemblies, over));
  note(item, step.increments, question ? `${item.epoch} ${question.rests?.fact ?? question.key} ${word}` : null);
  return step.chain;
}

/** Runs in the order in which they were made; everything else as its kinds are registered. */
function inOrder(history: History, items: readonly Observed[]): [runs: Observed[], others: Observed[]] {
  const place = new Map(history.value.runs.map((r, k) => [`run:${r.id}`, k]));
  const isRun = (o: Observed): boolean => place.has(o.source);
  const runs = items.filter(isRun).sort((a, b) => (place.get(a.source) ?? 0) - (place.get(b.source) ?? 0));
  return [runs, items.filter((o) => !isRun(o))];
}

function nowOf(history: History, chain: Chain, posterior: PerHypothesis): Now {
  const { space } = history;
  const now: Now = { works: 0, 'same-fault': 0, 'other-fault': 0 };
  // A sound device that failed when it was tried last does so by what it is used with: that is still so.
  const fails = history.value.actions.length > 0 && seenNow(history).last?.works === false;
  const { assemblies } = history;
  const assembly = assemblies.after(history.value.actions.length);
  [...assemblies.things, null].forEach((thing, place) => {
    // Boards that are apart work nowhere.
    const away = !isOwn(assembly, thing) && !(thing?.id === 'joint' && assembly.get('joint') === 'none');
    posterior.forEach((p, h) => {
      const of = (s: keyof typeof stateIndex): number =>
        p * chain.states[place * faultStates.length + stateIndex[s]][h];
      const still = of('same') + of('altered') + of('lacking');
      now[(h === space.none || away) && !fails ? 'works' : 'same-fault'] += still;
      now.works += of('works');
      now['other-fault'] += of('other');
    });
  });
  return now;
}
