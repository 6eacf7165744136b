import { namedChecks } from '../catalogue/index.ts';
import type { CircuitId } from '../catalogue/index.ts';
import type { Run } from '../case/index.ts';
import { likelySamePlace, suggestedCircuits } from '../hypotheses/index.ts';
import { clipText } from '../quantity/index.ts';
import { keyWithout } from './comparison-key.ts';
import type { Entry, History } from './kind.ts';
import { isHealthy, readsTheSame, sayLevel, type SeenRun } from './observed-run.ts';
import type { Question } from './question.ts';
import { earlierRun } from './run-before.ts';
import steps from './unplug-steps.json';

/** Two runs between which parts were unplugged. */
interface UnpluggedPair {
  plain: SeenRun;
  tried: SeenRun;
  later: SeenRun;
  parts: string[];
}

/** Everything that was unplugged while a run was made. */
function unpluggedIn({ setup }: Run): string[] {
  return [...setup.unplugged, ...(setup.display === 'disconnected' ? ['display'] : [])];
}

/** Parts of one list that are not in another. */
const beyond = (list: readonly string[], other: readonly string[]): string[] =>
  list.filter((name) => !other.some((x) => x.toLowerCase() === name.toLowerCase()));

/**
 * Runs that differ by what was unplugged: each against the newest one before it in which less was unplugged, or the one with
 * everything in that was made after it.
 *
 * @param usable runs of the whole device whose pattern is known
 */
export function unpluggedPairs(history: History, usable: readonly SeenRun[]): UnpluggedPair[] {
  const { epochOf, value } = history;
  return usable.flatMap((later, k): UnpluggedPair[] => {
    const epoch = epochOf(later.run.after);
    const own = unpluggedIn(later.run);
    const action = value.actions[epoch - 1];
    const alike = (one: SeenRun): boolean =>
      (one.shape.features.prompted === later.shape.features.prompted || isHealthy(one) !== isHealthy(later)) &&
      keyWithout(one.run, ['unplugged', 'display']) === keyWithout(later.run, ['unplugged', 'display']);
    const before = usable.slice(0, k).filter((one) => epochOf(one.run.after) === epoch && alike(one));
    const more = before.findLast(
      (one) => beyond(unpluggedIn(one.run), own).length === 0 && beyond(own, unpluggedIn(one.run)).length > 0,
    );
    const across =
      !more && own.length > 0 && action && action.kind !== 'disconnect' ? earlierRun(history, later) : null;
    const plain = more ?? across;
    if (plain) return pairOf(plain, later, later, beyond(own, unpluggedIn(plain.run)));
    if (before.some((one) => unpluggedIn(one.run).length === own.length)) return [];
    const less = before.findLast(
      (one) => beyond(own, unpluggedIn(one.run)).length === 0 && beyond(unpluggedIn(one.run), own).length > 0,
    );
    return less ? pairOf(later, less, later, beyond(unpluggedIn(less.run), own)) : [];
  });
}

function pairOf(plain: SeenRun, tried: SeenRun, later: SeenRun, parts: string[]): UnpluggedPair[] {
  return parts.length === 0 || (isHealthy(plain) && isHealthy(tried)) ? [] : [{ plain, tried, later, parts }];
}

const { parts: shares } = steps;

/**
 * Probability that a fault of a circuit sits in the parts that were unplugged: in the one that its words name, more where damage
 * was seen at it, and otherwise in one of the few that such a device has.
 */
function inParts({ value }: Pick<History, 'value'>, parts: readonly string[]): (circuit: CircuitId) => number {
  const of = (circuit: CircuitId, part: string): number => {
    const said = suggestedCircuits(part);
    const itself = [...said].filter(([, factor]) => factor === Math.max(...said.values())).map(([id]) => id);
    const hurt = value.checks.some(
      (c) =>
        c.id === namedChecks.look &&
        shares.hurt.includes(c.outcome ?? '') &&
        (likelySamePlace(c.where, part) || (c.circuit === circuit && itself.includes(circuit))),
    );
    if (hurt && (circuit === 'periph.board' || itself.includes(circuit))) return shares.ifHurt;
    if (itself.includes(circuit)) return circuit === 'periph.board' ? shares.oneOf : shares.itself;
    const usual = (shares.unnamed as Partial<Record<string, number>>)[circuit] ?? 0;
    return itself.length > 0 ? usual * shares.notNamed : usual;
  };
  return (circuit) =>
    Math.min(
      shares.most,
      parts.reduce((sum, part) => sum + of(circuit, part), 0),
    );
}

/** What every hypothesis expects of the reading with parts unplugged: the same, another, or a device that works. */
export function unpluggedQuestion(history: Pick<History, 'value' | 'space'>, parts: readonly string[]): Question {
  const names = parts.map((p) => p.toLowerCase()).sort();
  return leftOutQuestion(history, `unplugged:${names.join('+')}`, inParts(history, parts));
}

/** The same of a port that is not used: what belongs to it alone is out of the way at another. */
export const otherPortQuestion = (history: Pick<History, 'space'>): Question =>
  leftOutQuestion(
    history,
    namedChecks.ports,
    (circuit) => (steps.ofOnePort as Partial<Record<string, number>>)[circuit] ?? 0,
  );

/**
 * What is expected of a run in which something is out of the way that was in it before: where the fault sits in that, a device
 * that works; else what it was.
 *
 * @param share probability that a fault of a circuit sits in what is left out, 0 to 1
 */
function leftOutQuestion(
  { space }: Pick<History, 'space'>,
  key: string,
  share: (circuit: CircuitId) => number,
): Question {
  const rows = space.hypotheses.map(({ circuit }) => {
    const w = share(circuit);
    const hit = circuit === 'display' ? shares.hitDisplay : shares.hit;
    return Object.fromEntries(
      Object.entries(shares.miss).map(([word, p]) => [word, w * hit[word as keyof typeof hit] + (1 - w) * p]),
    );
  });
  return {
    key,
    repeats: steps.repeats,
    lacking: 'same',
    // A cause that is not known does not happen to leave with what was left out.
    saysUnmodelled: true,
    outcomes: Object.fromEntries(Object.keys(shares.miss).map((word) => [word, rows.map((row) => row[word])])),
  };
}

/** Parts without which the device works in a state of it; empty where none were found. */
export function freeingParts(history: History, epoch: number): string[] {
  const usable = history.seen.filter((s) => history.epochOf(s.run.after) <= epoch);
  const pair = unpluggedPairs(history, usable).findLast(
    ({ tried }) => isHealthy(tried) && history.epochOf(tried.run.after) === epoch,
  );
  return pair?.parts ?? [];
}

/** The answers that such pairs of runs give. */
export function unpluggedEntries(history: History, usable: readonly SeenRun[]): Entry[] {
  return unpluggedPairs(history, usable).map(({ plain, tried, later, parts }): Entry => {
    const recovers = isHealthy(tried);
    const word = recovers ? 'recovers' : readsTheSame(plain, tried) ? 'same' : 'changed';
    const says = { recovers: 'it recovers', same: 'nothing changes', changed: 'it reads differently' }[word];
    return {
      kind: 'comparison',
      source: `pair:${plain.run.id}+${tried.run.id}`,
      sentence: `run ${tried.run.id} against ${plain.run.id}: with ${parts.map((p) => clipText(p)).join(', ')} unplugged ${says} (${sayLevel(plain)}, then ${sayLevel(tried, plain)})`,
      epoch: history.epochOf(later.run.after),
      answer: { question: unpluggedQuestion(history, parts), word, hints: [] },
      likelihood: null,
    };
  });
}
