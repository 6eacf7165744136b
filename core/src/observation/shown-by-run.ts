import { checkTypes, circuitIds, namedChecks, patternTypes, type CheckId } from '../catalogue/index.ts';
import type { PerHypothesis } from '../inference/index.ts';
import { topPattern } from '../shape/index.ts';
import { isOwn } from './assembly.ts';
import rules from './checks.json';
import type { History } from './kind.ts';
import { isOfHalf, type SeenRun } from './observed-run.ts';
import { marginalsOf, type Over, type Question } from './question.ts';
import type { Space } from '../prediction/index.ts';

/** A run that gives away what can be looked at in the same state of the device. */
interface ShownByRun {
  seen: SeenRun;
  /** Probability that the device is looked at as it was in the run, by hypothesis. */
  share: PerHypothesis;
  /** It showed a start: what is looked at then is what a good device shows. */
  starts: boolean;
}

const { fedPast } = rules;

/** The run of some that says most of what can be looked at; null where none says anything. */
export function shownByRun(history: History, runs: readonly SeenRun[]): ShownByRun | null {
  const shown = runs.flatMap((seen): ShownByRun[] => {
    const { isFullStart = false, implies } = patternTypes[topPattern(seen.patterns)];
    if (isOfHalf(seen)) return [];
    if (isFullStart) return [{ seen, share: startShown(history, seen), starts: true }];
    const sure = implies ? failureShown(seen) : 0;
    return sure > 0 ? [{ seen, share: history.space.circuitOf.map(() => sure), starts: false }] : [];
  });
  const most = ({ share }: ShownByRun): number => Math.max(...share);
  return shown.reduce<ShownByRun | null>((best, s) => (best === null || most(s) >= most(best) ? s : best), null);
}

/** How surely a device that failed in a run fails when it is looked at: only where it had to start from the feed alone, 0 to 1. */
function failureShown({ run, patterns, shape }: SeenRun): number {
  const { battery, deviceState } = run.setup;
  const alone = run.feed === 'battery' || battery === 'absent' || battery === 'disconnected' || run.feed === 'dc-in';
  const { isHold = false } = patternTypes[patterns[0].id];
  if ((!alone && !isHold) || deviceState === 'running' || deviceState === 'asleep') return 0;
  if (patterns[0].p < rules.shown.minPattern) return 0;
  return patterns[0].p * (shape.features.prompted || isHold ? 1 : rules.shown.unpressed);
}

/** The same of one that started with everything in it that is in now: less surely where it was fed past the fault. */
function startShown({ assemblies, epochOf, space }: History, { run, patterns }: SeenRun): PerHypothesis {
  const [then, put] = [assemblies.ofRun(run), assemblies.after(epochOf(run.after))];
  const isAsItIs = assemblies.things.every((t) => fedPast.things.includes(t.id) || isOwn(then, t) === isOwn(put, t));
  const sure = patterns.reduce((sum, { id, p }) => sum + (patternTypes[id].isFullStart === true ? p : 0), 0);
  return space.circuitOf.map((c) => {
    const isPast = run.feed === 'battery' && fedPast.circuits.includes(circuitIds[c]);
    return isAsItIs ? sure * (isPast ? rules.starts.fedPast : rules.starts.asItIs) : 0;
  });
}

/** The outcome of a check that a run gives away, with how surely where it is looked at as it was then; null where it gives none away. */
export function impliedBy({ seen }: ShownByRun, check: CheckId): readonly [outcome: string, certainty: number] | null {
  const { implies = {}, isHold = false } = patternTypes[topPattern(seen.patterns)];
  // A hold before anybody pressed leaves open what pressing does.
  if (check === namedChecks.press && !seen.shape.features.prompted && !isHold) return null;
  return implies[check] ?? null;
}

/**
 * A check as it is expected beside a run of the same state: the device may be as it was in the run, which is one more value of the
 * fact that all checks rest on, and shows what the run gives away.
 *
 * @param question what is expected of the check without the run
 */
export function besideRun(
  question: Question,
  check: CheckId,
  shown: ShownByRun | null,
  { space, over }: { space: Space; over: Over },
): Question {
  if (!shown) return question;
  const { share, starts } = shown;
  const words = Object.keys(question.outcomes);
  const own = (rules.ownWhileItStarts as Partial<Record<CheckId, readonly string[]>>)[check] ?? [];
  const implied = impliedBy(shown, check);
  const asGood = starts && checkTypes[check].dead !== undefined;
  const asThen = (word: string): PerHypothesis => {
    const list = question.outcomes[word];
    return space.circuitOf.map((c, h) => {
      if (starts && own.includes(circuitIds[c])) return list[h];
      const usual = asGood ? list[over.none] : list[h];
      return implied === null ? usual : (implied[0] === word ? implied[1] : 0) + (1 - implied[1]) * usual;
    });
  };
  const { rests } = question;
  const shareOf = (p: number, h: number): number => (1 - share[h]) * p;
  if (!rests)
    return {
      ...question,
      outcomes: Object.fromEntries(
        words.map((word) => {
          const then = asThen(word);
          return [word, Array.from(question.outcomes[word], (p, h) => shareOf(p, h) + share[h] * then[h])];
        }),
      ),
    };
  const fact = {
    ...rests,
    values: [...rests.values.map((list) => Array.from(list, shareOf)), share],
    given: Object.fromEntries(words.map((word) => [word, [...rests.given[word], asThen(word)]])),
  };
  return { ...question, outcomes: marginalsOf(fact, words), rests: fact };
}
