import { elementNamed } from '../twin/index.ts';
import {
  predictedMoves,
  twinTrust,
  unpluggedIds,
  type Moved,
  type Space,
  type PredictedMoves,
} from '../prediction/index.ts';
import { formatCurrent, formatSeconds } from '../quantity/index.ts';
import type { Shape } from '../shape/index.ts';
import { sayStep } from './change-candidates.ts';
import { stepObject, type Candidate, type Entry, type History, type ObservationKind } from './kind.ts';
import type { Question } from './question.ts';
import type { SeenRun } from './observed-run.ts';
import { runShowsLife } from './works.ts';
import steps from './unplug-steps.json';

/** Outcomes of a pull: it falls, rises, stays. */
const outcomes = 3;

/** What the draw did when something was unplugged, or put back, with the run going on. Amperes, seconds. */
export interface UnplugStep {
  t: number;
  part: string;
  event: 'part-off' | 'part-on';
  beforeA: number;
  afterA: number;
  moved: Extract<Moved, 'falls' | 'rises' | 'same'>;
}

/** A change of the draw with nobody doing anything. */
interface SpontaneousChange {
  t: number;
  beforeA: number;
  afterA: number;
}

/** Mean current between two instants, from the segments; null where nothing was measured there. */
function levelBetween(shape: Shape, t0: number, t1: number): number | null {
  let [sum, seconds] = [0, 0];
  for (const s of shape.segments) {
    const overlap = Math.min(s.t1, t1) - Math.max(s.t0, t0);
    if (overlap <= 0 || s.meanA === null || s.kind === 'gap') continue;
    sum += s.meanA * overlap;
    seconds += overlap;
  }
  return seconds >= steps.minSeen ? sum / seconds : null;
}

/** What counts as a change against the noise of this run and how well a bench repeats itself. */
function minStep(shape: Shape, levelA: number): number {
  const { noiseA, resolutionA } = shape.features;
  return Math.max(steps.noises * noiseA, steps.share * Math.abs(levelA), resolutionA, steps.minA);
}

/**
 * The step of the draw at every marker of something unplugged or put back: the level shortly before against the level
 * shortly after, up to the next marker, held against the noise.
 *
 * @returns steps in seconds and amperes, in the order of time
 */
export function unplugSteps(shape: Shape): UnplugStep[] {
  const { markers } = shape;
  return markers.flatMap((m, k): UnplugStep[] => {
    if (m.event !== 'part-off' && m.event !== 'part-on') return [];
    const from = Math.max(m.t - steps.windowS, markers[k - 1]?.t ?? -Infinity);
    const to = Math.min(m.t + steps.settleS + steps.windowS, markers[k + 1]?.t ?? Infinity);
    const before = levelBetween(shape, from, m.t - steps.guardS);
    const after = levelBetween(shape, m.t + steps.settleS, to);
    if (before === null || after === null) return [];
    const step = after - before;
    const moved = Math.abs(step) < minStep(shape, before) ? 'same' : step < 0 ? 'falls' : 'rises';
    return [{ t: m.t, part: m.note ?? '', event: m.event, beforeA: before, afterA: after, moved }];
  });
}

/** Changes of the draw after the first part came off that no marker stands at: a new state that came by itself. */
export function spontaneousChanges(shape: Shape): SpontaneousChange[] {
  const first = shape.markers.find((m) => m.event === 'part-off');
  if (!first) return [];
  const out: SpontaneousChange[] = [];
  shape.segments.forEach((s, k) => {
    const before = shape.segments[k - 1];
    if (!before || s.t0 < first.t || before.meanA === null || s.meanA === null) return;
    if (s.kind === 'gap' || before.kind === 'gap' || s.kind === 'bursts' || before.kind === 'bursts') return;
    const isMarked = shape.markers.some((m) => s.t0 > m.t - steps.guardS && s.t0 < m.t + steps.settleS + steps.windowS);
    if (isMarked || Math.abs(s.meanA - before.meanA) < 2 * minStep(shape, before.meanA)) return;
    out.push({ t: s.t0, beforeA: before.meanA, afterA: s.meanA });
  });
  return out;
}

const words = ['falls', 'rises', 'same'] as const;

type Likelihood = Record<(typeof words)[number], number>;

/** With the run going on, a device that starts when a part comes off draws more: that is a rise. */
function seenAs(predicted: PredictedMoves, trust: number): Likelihood {
  const out: Likelihood = {
    falls: (1 - trust) / outcomes,
    rises: (1 - trust) / outcomes,
    same: (1 - trust) / outcomes,
  };
  const add = (moved: Moved, p: number): void => {
    if (moved === 'recovers') {
      out.rises += steps.risesShare * p;
      out.falls += steps.fallsShare * p;
    } else out[moved] += p;
  };
  add(predicted.cured, trust * steps.comesOffWhole);
  add(predicted.not, trust * (1 - steps.comesOffWhole));
  return out;
}

/** What every hypothesis expects of the draw when a part comes off with the run going on. */
function unplugQuestion(space: Space, part: string, wanted: (h: number) => boolean): Question {
  const [id] = part === '' || space.closeness !== 'own' ? [] : unpluggedIds(space.twin.board.profile, [part]);
  const known = id !== undefined && elementNamed(space.twin.board.profile, part) !== null;
  const predicted = known ? predictedMoves(space.twin, 'disconnect', id, wanted) : null;
  const trust = twinTrust(space);
  const rows = space.hypotheses.map((h, k): Likelihood => {
    const own = predicted?.[k];
    if (own) return seenAs(own, trust);
    const separable = h.circuit === 'periph.board' || h.circuit === 'display';
    return separable && !predicted ? steps.peripheral : steps.others;
  });
  return {
    key: `unplug:${part.toLowerCase()}`,
    repeats: steps.repeats,
    lacking: 'same',
    outcomes: Object.fromEntries(words.map((word) => [word, rows.map((r) => r[word])])),
  };
}

/** Things that came by themselves while parts were being unplugged, in sentences. */
export function spontaneousWarnings(seen: readonly SeenRun[]): string[] {
  return seen.flatMap(({ run, shape }) =>
    spontaneousChanges(shape).map(
      (change) =>
        `Run ${run.id}: at ${formatSeconds(change.t)} the draw changed from ${formatCurrent(change.beforeA)} to ${formatCurrent(change.afterA)} although nothing was unplugged then. Wait until it settles and unplug again.`,
    ),
  );
}

/** What was unplugged while a run went on: a step at the instant a flex comes off is the strongest single clue there is. */
export const unplugKind: ObservationKind = {
  id: 'unplug',
  entries: (history) =>
    history.seen.flatMap((one): Entry[] =>
      // A run that recovers as a part comes off says so as a whole.
      (history.space.closeness !== 'own' && runShowsLife(one) ? [] : unplugSteps(one.shape))
        .filter((step) => step.event === 'part-off')
        .map((step) => {
          const part = step.part.trim();
          return {
            kind: 'unplug',
            source: `unplug:${one.run.id}:${step.t}`,
            reason: {
              id: 'unplugged',
              values: { part, run: one.run.id, moved: step.moved, beforeA: step.beforeA, afterA: step.afterA },
            },
            epoch: history.epochOf(one.run.after),
            answer: {
              question: unplugQuestion(history.space, part, (h) => history.over.prior[h] > 0),
              word: step.moved,
            },
            likelihood: null,
          };
        }),
    ),
  candidates: (history: History) => {
    const { space } = history;
    if (space.closeness !== 'own') return [];
    return space.twin.board.profile.peripherals
      .filter(
        (p) =>
          !history.value.actions.some(
            (a) => a.kind === 'disconnect' && elementNamed(space.twin.board.profile, a.target)?.id === p.id,
          ),
      )
      .filter(
        (p) =>
          !history.value.runs.some((r) =>
            r.setup.unplugged.some((name) => elementNamed(space.twin.board.profile, name)?.id === p.id),
          ),
      )
      .flatMap((p): Candidate[] => {
        const object = stepObject(p.name, 'periph.board');
        return object === null
          ? []
          : [
              {
                id: `unplug:${p.id}`,
                kind: 'action',
                check: null,
                action: { kind: 'disconnect', circuit: 'periph.board', target: p.name, object },
                where: p.name,
                mode: null,
                circuit: 'periph.board',
                minutes: steps.minutes,
                depth: steps.depth,
                question: unplugQuestion(space, p.name, history.plausible),
                name: sayStep('disconnect', object),
                at: [p.id],
              },
            ];
      });
  },
};
