import { namedChecks, checkTypes, type CircuitId } from '../catalogue/index.ts';
import type { Space } from '../prediction/index.ts';
import { topPattern } from '../shape/index.ts';
import type { Entry, History, ObservationKind } from './kind.ts';
import { checkApplies } from './check-applies.ts';
import { plainCandidate, reasonOfCheck } from './check-words.ts';
import { isMainHalf, sits } from './assembly.ts';
import rules from './checks.json';
import type { Reason } from '../reasons/index.ts';
import table from './halves.json';
import { faultStates, type Question } from './question.ts';
import { isHealthy, isOfHalf, readsTheSame, runShowsHalfAlive, type SeenRun } from './observed-run.ts';
import { showsHalfAlive } from './works.ts';

/** What was seen of the two halves of a device that was taken apart; null where nobody looked. */
interface HalvesSeen {
  /** Whether the half with the processor starts by itself. */
  main: 'starts' | 'fails' | null;
  /** Whether the other half draws current on its own. */
  other: 'draws' | 'rests' | null;
}

/** How likely is what was seen, by where the fault sits. */
function shows({ main, other }: HalvesSeen, at: 'main' | 'other' | 'joint' | 'nowhere'): number {
  const starts = table.mainStarts[at];
  const draws = table.otherDraws[at];
  const p = main === null ? 1 : main === 'starts' ? starts : 1 - starts;
  return p * (other === null ? 1 : other === 'draws' ? draws : 1 - draws);
}

/** What the runs of halves, and what was looked at on one of them, show in one state of the device. */
function seenOf(history: History, epoch: number): { seen: HalvesSeen; sources: string[] } {
  const { value, epochOf } = history;
  const runs = history.seen.filter((s) => s.run.setup.assembly === 'half' && epochOf(s.run.after) === epoch);
  const whole = history.seen.filter((s) => !isOfHalf(s) && !isHealthy(s));
  const out: HalvesSeen = { main: null, other: null };
  const alive = runs.filter(runShowsHalfAlive);
  if (alive.length > 0) out.main = 'starts';
  const looked = value.checks.filter((c) => c.half !== null && epochOf(c.after) === epoch);
  if (looked.some(showsHalfAlive)) out.main = 'starts';
  const rest = runs.filter((s) => !alive.includes(s));
  if (alive.length > 0 || rest.length === 1) {
    for (const one of rest) {
      const isMain = alive.length === 0 && isMainHalf(one.run);
      const draws = drawsByItself(one, whole);
      if (isMain) out.main = 'fails';
      else out.other = draws ? 'draws' : (out.other ?? 'rests');
    }
  } else if (rest.length > 1) {
    out.main = rest.some((s) => isMainHalf(s.run) && !drawsByItself(s, whole)) ? null : 'fails';
    out.other = rest.some((s) => !isMainHalf(s.run) && drawsByItself(s, whole)) ? 'draws' : 'rests';
  }
  return {
    seen: out,
    sources: [...runs.map((s) => `run:${s.run.id}`), ...looked.map((c) => `check:${c.id}`)],
  };
}

const halvesWords = Object.entries(table.outcomes) as [string, (HalvesSeen & { share: number })[]][];

/**
 * The check of the halves in one word: what every hypothesis expects of it, by where its fault sits. Where one half starts and
 * the other draws, people say the one or the other; that neither does anything has no word to enter.
 */
function halvesQuestion({ hypotheses }: Space): Question {
  const outcomes = Object.fromEntries(
    halvesWords.map(([word, meant]) => [
      word,
      hypotheses.map(({ circuit }) => {
        if (circuit === 'unmodelled') return 1 / halvesWords.length;
        return meant.reduce((sum, seen) => sum + seen.share * likelihoodOf(circuit, seen, false), 0);
      }),
    ]),
  );
  return { key: 'check:halves-apart', outcomes, repeats: rules.repeats, lacking: 'same' };
}

/** How likely is what was seen of the halves where the fault is in this circuit, up to a constant. */
function likelihoodOf(circuit: CircuitId, seen: HalvesSeen, isSideBoard: boolean): number {
  if (circuit === 'none') return shows(seen, 'nowhere');
  if (circuit === 'unmodelled') return table.unknown;
  const { main, other, joint } = sits(circuit, isSideBoard);
  return main * shows(seen, 'main') + other * shows(seen, 'other') + joint * shows(seen, 'joint');
}

/** Whether a half draws by itself, or fails the way the whole does. */
const drawsByItself = (s: SeenRun, whole: readonly SeenRun[]): boolean =>
  table.drawing.includes(topPattern(s.patterns)) || (!isHealthy(s) && whole.some((w) => readsTheSame(w, s)));

/** What was seen of the halves in one state of the device; empty where nothing was. */
function halvesEntries(history: History, epoch: number): Entry[] {
  const { value, space, epochOf, assemblies } = history;
  const { seen, sources } = seenOf(history, epoch);
  if (seen.main === null && seen.other === null)
    return value.checks.flatMap((check, k): Entry[] => {
      const { id, outcome } = check;
      if (id !== namedChecks.halves || epochOf(check.after) !== epoch) return [];
      const common = { kind: 'halves', source: `check:${k}`, reason: reasonOfCheck(check), epoch };
      if (outcome === null || !Object.hasOwn(table.outcomes, outcome))
        return [{ ...common, why: { id: 'no-result', values: {} } }];
      const answer = { question: halvesQuestion(space), word: outcome };
      return [{ ...common, answer, likelihood: null }];
    });
  const at = (id: string | undefined): Parameters<typeof shows>[1] =>
    id === 'half:main' ? 'main' : id === 'half:other' ? 'other' : id === 'joint' ? 'joint' : 'nowhere';
  const likelihood = [...assemblies.things, null].map((thing) => {
    const [here, whole] = [shows(seen, at(thing?.id)), shows(seen, 'nowhere')];
    return faultStates.map((state) =>
      space.hypotheses.map(({ circuit }) =>
        state === 'other' || circuit === 'unmodelled' ? table.unknown : state === 'works' ? whole : here,
      ),
    );
  });
  const reason: Reason = { id: 'halves', values: { main: seen.main, other: seen.other } };
  // Each half was in while it was looked at, whatever lies beside the device now.
  return [{ kind: 'halves', source: sources[0], reason, epoch, answer: null, likelihood, assembly: new Map() }];
}

/**
 * Boards that were taken apart: what a half does says what sits on that half. One that starts alone clears what sits on it; both
 * fine apart and not together, it is what joins them. A half that works is no cure.
 */
export const halvesKind: ObservationKind = {
  id: 'halves',
  entries: (history) =>
    Array.from({ length: history.value.actions.length + 1 }, (_, epoch) => epoch).flatMap((epoch) =>
      halvesEntries(history, epoch),
    ),
  candidates: (history) => {
    const check = namedChecks.halves;
    if (!checkApplies(history, check)) return [];
    const { name, minutes, depth } = checkTypes[check];
    return [
      plainCandidate({ id: `check:${check}`, check, name, minutes, depth, question: halvesQuestion(history.space) }),
    ];
  },
};
