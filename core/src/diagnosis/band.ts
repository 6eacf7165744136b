import { type CircuitId, patternNames, patternTypes, type PatternId, feedVolts } from '../catalogue/index.ts';
import type { Case, Run } from '../case/index.ts';
import { formatCurrent, formatSeconds, formatVoltage } from '../quantity/index.ts';
import { recognisePatterns, topPattern, type Shape } from '../shape/index.ts';
import { sayFault, startUp, type Profile } from '../twin/index.ts';
import {
  compareShapes,
  contextFor,
  deviceTwinOf,
  fitOf,
  fitSettings as settings,
  informedBy,
  predictAll,
  twinSetupOf,
  type Comparison,
  type Term,
  type TermName,
} from '../prediction/index.ts';
import belief from './belief.json';

/** A stretch of what a suspect would draw in the setup of a run: seconds of the run, amperes at the feed. */
export interface PredictedStretch {
  t0: number;
  t1: number;
  low: number;
  high: number;
}

/** One thing that a suspect predicts for a run, beside what was seen. */
export interface PredictedItem {
  says: string;
  /** Whether it agrees with what was seen: yes, no, or so that it could be either. */
  fits: 'yes' | 'no' | 'either';
  /** Where in the run it would be seen, seconds. */
  span: readonly [from: number, to: number];
}

/** What a suspect would do in a run. */
export interface SuspectDraw {
  /** What it would draw; empty where the twin cannot tell. */
  stretches: PredictedStretch[];
  predicted: PredictedItem[];
}

/**
 * What the best explanation within a circuit would have drawn in this run's setup, with the allowance of its profile,
 * and what that says beside what was seen. The healthy device for `none`. Empty where the twin cannot tell.
 */
export function predictedDraw(
  given: Case,
  run: Run,
  shape: Shape,
  circuit: CircuitId,
  profiles?: ReadonlyMap<string, Profile>,
): SuspectDraw {
  const nothing: SuspectDraw = { stretches: [], predicted: [] };
  const twin = deviceTwinOf(given.device, given.runs, profiles);
  const value = informedBy(given, twin);
  const setup = twinSetupOf(twin, run, shape);
  if (!setup) return nothing;
  const f = shape.features;
  const limits = {
    noiseA: f.noiseA,
    resolutionA: f.resolutionA,
    intervalS: Math.min(f.intervalS || settings.eyeIntervalS, 2),
  };
  const context = contextFor(value, run);
  const observed = { features: f, patterns: recognisePatterns(shape, context) };
  let best: { score: number; h: number; comparison: Comparison; pattern: PatternId } | null = null;
  for (const [h, p] of predictAll(twin, setup, limits, context).entries()) {
    if (p === null || twin.hypotheses[h].circuit !== circuit) continue;
    const comparison = compareShapes(observed, p, twin.closeness, run.typed === null);
    const fit = fitOf(comparison);
    const score = fit.pattern + fit.details + Math.log(twin.hypotheses[h].share);
    if (best === null || score > best.score) best = { score, h, comparison, pattern: topPattern(p.patterns) };
  }
  const fault = best === null ? null : twin.hypotheses[best.h].fault;
  if (!best || !fault) return nothing;
  const wide = Math.exp(settings.levelAllowance[twin.closeness]);
  const stretches = startUp(twin.board, [fault], setup, twin.workspace).segments.map((s) => ({
    t0: s.t0,
    t1: s.t1,
    low: s.lowA / wide,
    high: s.highA * wide + belief.bandA,
  }));
  const seen = topPattern(observed.patterns);
  const pattern: PredictedItem = {
    says: `${sayFault(twin.board.profile, fault)}: would show “${patternNames[best.pattern]}”`,
    fits: best.pattern === seen ? 'yes' : best.comparison.agreement > belief.agreesFrom ? 'either' : 'no',
    span: spanOf(patternTypes[best.pattern].phase === 'before' ? 'before' : 'course', shape),
  };
  return { stretches, predicted: [pattern, ...sayTerms(best.comparison.terms, shape)] };
}

/** Where in a run a comparison looks, seconds. */
function spanOf(term: TermName, { segments, markers }: Shape): PredictedItem['span'] {
  const [first, last] = [segments[0], segments.at(-1)];
  if (!first || !last) return [0, 0];
  const prompt = markers.find((m) => m.event === 'prompt')?.t ?? null;
  if (term === 'before') return [first.t0, prompt ?? last.t1];
  if (term === 'tail') return [last.t0, last.t1];
  const after = segments.filter((s) => s.t1 > (prompt ?? first.t0));
  if (term !== 'peak' || after.length === 0) return [prompt ?? first.t0, last.t1];
  const top = after.reduce((a, b) => ((b.meanA ?? 0) > (a.meanA ?? 0) ? b : a));
  return [top.t0, top.t1];
}

const maxPredictedItems = 3;

/** The comparisons that matter most, in words: levels in amperes at the feed, times in seconds. */
function sayTerms(terms: readonly Term[], shape: Shape): PredictedItem[] {
  const { voltage, resolutionA } = shape.features;
  const current = (watts: number): string =>
    formatCurrent(watts / Math.max(voltage.highest ?? feedVolts.unknown, 0.5), resolutionA);
  const words: Partial<Record<TermName, (x: number) => string>> = {
    before: (x) => `${current(x)} before power-on`,
    tail: (x) => `${current(x)} at the end`,
    peak: (x) => `up to ${current(x)}`,
    pulse: (x) => `pulses of ${current(x)}`,
    period: (x) => `the same again every ${formatSeconds(x)}`,
    contract: (x) => `${formatVoltage(x)} at the feed`,
  };
  return terms
    .filter((t) => words[t.name] !== undefined && (t.name !== 'contract' || Math.abs(t.distance) > 2))
    .sort((a, b) => Math.abs(b.distance) * b.weight - Math.abs(a.distance) * a.weight)
    .slice(0, maxPredictedItems)
    .map((t) => {
      const say = words[t.name] as (x: number) => string;
      const [predicted, seen] = [say(t.predicted), say(t.seen)];
      const far = Math.abs(t.distance);
      const says = predicted === seen ? `${predicted}, as measured` : `${predicted}; seen: ${seen}`;
      return { says, fits: far < 1 ? 'yes' : far > 2 ? 'no' : 'either', span: spanOf(t.name, shape) };
    });
}
