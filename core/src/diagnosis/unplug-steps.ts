import { circuitIds, type Run } from '../case/index.ts';
import { clip, formatCurrent, formatSeconds } from '../quantity/index.ts';
import type { Shape } from '../shape/index.ts';
import { unpluggedIds, type DeviceTwin } from './device-twin.ts';
import steps from './data/unplug-steps.json';
import { movedLikelihoods } from './interventions.ts';
import type { EvidenceItem } from './model.ts';
import type { Moved } from './predict-checks.ts';
import type { SeenRun } from './runs.ts';

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
export interface SpontaneousChange {
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
  return seconds >= steps.leastSeen ? sum / seconds : null;
}

/** What counts as a change against the noise of this run and how well a bench repeats itself. */
function leastStep(shape: Shape, levelA: number): number {
  const { noiseA, resolutionA } = shape.features;
  return Math.max(steps.noises * noiseA, steps.share * Math.abs(levelA), resolutionA, steps.leastA);
}

/**
 * The step of the draw at every marker of something unplugged or put back: the level shortly before against the level
 * shortly after, up to the next marker, held against the noise.
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
    const moved = Math.abs(step) < leastStep(shape, before) ? 'same' : step < 0 ? 'falls' : 'rises';
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
    if (isMarked || Math.abs(s.meanA - before.meanA) < 2 * leastStep(shape, before.meanA)) return;
    out.push({ t: s.t0, beforeA: before.meanA, afterA: s.meanA });
  });
  return out;
}

const did = { falls: 'the draw falls', rises: 'the draw rises', same: 'nothing moves' } as const;

/** Evidence from what was unplugged while a run went on, and what came by itself meanwhile. */
export function unplugEvidence(
  seen: readonly SeenRun[],
  twin: DeviceTwin,
  plausible: (hypothesis: number) => boolean,
): { items: EvidenceItem[]; warnings: string[] } {
  const items: EvidenceItem[] = [];
  const warnings: string[] = [];
  for (const { run, shape } of seen) {
    for (const step of unplugSteps(shape)) {
      if (step.event === 'part-off') items.push(evidenceOf(run, step, twin, plausible));
    }
    for (const change of spontaneousChanges(shape))
      warnings.push(
        `Run ${run.id}: at ${formatSeconds(change.t)} the draw went from ${formatCurrent(change.beforeA)} to ${formatCurrent(change.afterA)} by itself. Nothing was unplugged then: it is a new state, not an answer; let it settle and unplug again.`,
      );
  }
  return { items, warnings };
}

function evidenceOf(run: Run, step: UnplugStep, twin: DeviceTwin, plausible: (h: number) => boolean): EvidenceItem {
  const part = step.part.trim();
  const [id] = part === '' ? [] : unpluggedIds(twin.board.profile, [part]);
  const told =
    id === undefined || twin.closeness !== 'own' ? null : movedLikelihoods(twin, 'disconnect', id, plausible);
  const name = part === '' ? 'a part' : clip(part);
  return {
    source: `unplugged:${run.id}:${part || step.t}`,
    sentence: `${name} unplugged in run ${run.id}: ${did[step.moved]} (${formatCurrent(step.beforeA)}, then ${formatCurrent(step.afterA)})`,
    logLikelihood: circuitIds.map((circuit) =>
      Math.log(circuit === 'periph.board' ? steps.peripheral[step.moved] : steps.others[step.moved]),
    ),
    ...(told ? { fine: told.map((t) => steps.weight * Math.log(t ? seenAs(t, step.moved) : steps.unknown)) } : {}),
  };
}

/** A device that starts when a part comes off draws more: with the run going on that is a rise. */
function seenAs(told: Record<Moved, number>, moved: UnplugStep['moved']): number {
  return Math.max(0.02, moved === 'rises' ? told.rises + told.recovers : told[moved] + 0.5 * told.recovers);
}
