import type { CircuitId } from '../catalogue/index.ts';
import { topPattern } from '../shape/index.ts';
import type { Entry, History, ObservationKind } from './kind.ts';
import table from './halves.json';
import { faultStates, stateIndex } from './question.ts';
import { runShowsHalfAlive, type SeenRun } from './observed-run.ts';
import { showsHalfAlive } from './works.ts';

/** What was seen of the two halves of a device that was taken apart; null where nobody looked. */
interface HalvesSeen {
  /** Whether the half with the processor starts by itself. */
  main: 'starts' | 'fails' | null;
  /** Whether the other half draws by itself. */
  other: 'draws' | 'rests' | null;
}

/** Probability that a fault of a circuit sits on the half with the processor, on the other, or in what joins them. */
function sits(circuit: CircuitId, isSideBoard: boolean): { main: number; other: number; joint: number } {
  if (circuit === 'none' || circuit === 'unmodelled') return { main: 0, other: 0, joint: 0 };
  if (circuit === 'joint.stack') return { main: 0, other: 0, joint: 1 };
  const rows = (isSideBoard ? table.onMain.sideBoard : table.onMain.stack) as Partial<Record<string, number>>;
  const main = rows[circuit] ?? rows.default ?? 0.5;
  return { main, other: 1 - main, joint: 0 };
}

/** How likely is what was seen, by where the fault sits. */
function shows({ main, other }: HalvesSeen, at: 'main' | 'other' | 'joint' | 'nowhere'): number {
  const starts = table.mainStarts[at];
  const draws = table.otherDraws[at];
  const p = main === null ? 1 : main === 'starts' ? starts : 1 - starts;
  return p * (other === null ? 1 : other === 'draws' ? draws : 1 - draws);
}

/** What the runs of halves, and checks of them, show in one state of the device. */
function seenOf(history: History, epoch: number): { seen: HalvesSeen; sources: string[] } {
  const { value, epochOf } = history;
  const runs = history.seen.filter((s) => s.run.setup.assembly === 'half' && epochOf(s.run.after) === epoch);
  const out: HalvesSeen = { main: null, other: null };
  const check = value.checks.findLast((c) => c.id === 'halves-apart' && epochOf(c.after) === epoch && c.outcome !== null);
  if (check?.outcome) Object.assign(out, table.outcomes[check.outcome as keyof typeof table.outcomes] ?? {});
  const alive = runs.filter(runShowsHalfAlive);
  if (alive.length > 0) out.main = 'starts';
  const looked = value.checks.filter((c) => c.half !== null && epochOf(c.after) === epoch);
  if (looked.some(showsHalfAlive)) out.main = 'starts';
  const rest = runs.filter((s) => !alive.includes(s));
  if (alive.length > 0 || rest.length === 1) {
    for (const one of rest) {
      const isMain = alive.length === 0 && isMainHalf(one);
      const draws = drawsByItself(one);
      if (isMain) out.main = 'fails';
      else out.other = draws ? 'draws' : (out.other ?? 'rests');
    }
  } else if (rest.length > 1) {
    out.main = rest.some((s) => isMainHalf(s) && !drawsByItself(s)) ? null : 'fails';
    out.other = rest.some((s) => !isMainHalf(s) && drawsByItself(s)) ? 'draws' : 'rests';
  }
  return {
    seen: out,
    sources: [...runs.map((s) => `run:${s.run.id}`), ...(check ? ['check:halves-apart'] : []), ...looked.map((c) => `check:${c.id}`)],
  };
}

const isMainHalf = ({ run }: SeenRun): boolean => /upper|main|top|processor|logic/i.test(run.setup.half ?? 'upper');
const drawsByItself = (s: SeenRun): boolean => table.drawing.includes(topPattern(s.patterns));

const said: Record<string, string> = {
  starts: 'the main half starts by itself',
  fails: 'the main half does not start by itself',
  draws: 'the other half draws by itself',
  rests: 'the other half draws nothing by itself',
};

/**
 * Boards that were taken apart: what a half does says what sits on that half. One that starts alone clears what sits on it; both
 * fine apart and not together, it is what joins them. A half that works is no cure.
 */
export const halvesKind: ObservationKind = {
  id: 'halves',
  entries: (history) => {
    const { value, space } = history;
    const epochs = Array.from({ length: value.actions.length + 1 }, (_, k) => k);
    return epochs.flatMap((epoch): Entry[] => {
      const { seen, sources } = seenOf(history, epoch);
      if (seen.main === null && seen.other === null) return [];
      const isSideBoard = value.actions
        .slice(0, epoch)
        .some((a) => a.kind === 'disconnect' && a.circuit !== null && a.circuit !== 'joint.stack');
      const whole = shows(seen, 'nowhere');
      const same = space.hypotheses.map((h) => {
        if (h.circuit === 'none') return whole;
        if (h.circuit === 'unmodelled') return table.unknown;
        const at = sits(h.circuit, isSideBoard);
        return at.main * shows(seen, 'main') + at.other * shows(seen, 'other') + at.joint * shows(seen, 'joint');
      });
      const likelihood = faultStates.map((_, s) =>
        // What works because a board was taken off still does on that board what it did.
        s === stateIndex.works ? same.map((p) => (isSideBoard ? Math.max(p, whole) : whole)) : s === stateIndex.other ? same.map(() => table.unknown) : [...same],
      );
      const words = [seen.main, seen.other].flatMap((w) => (w === null ? [] : [said[w]]));
      return [
        {
          kind: 'halves',
          source: sources[0] ?? 'halves',
          sentence: `taken apart: ${words.join(', ')}`,
          epoch,
          answer: null,
          likelihood,
        },
      ];
    });
  },
  candidates: () => [],
};
