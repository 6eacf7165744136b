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
  /** What is compared: the pattern, or a figure of the run. */
  of: TermName | 'pattern';
  /** What was seen, in words: "2 mA before power-on". */
  seen: string;
  /** The same value as the suspect predicts it, without what it is of: "194 mA". */
  predicted: string;
  /** How much it says against the suspect: its distance times its weight, both as in the comparison. */
  against: number;
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
    of: 'pattern',
    seen: `“${patternNames[seen]}”`,
    predicted: `“${patternNames[best.pattern]}”`,
    against: 0,
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

/** Every comparison in words, the one that says most first: levels in amperes at the feed, times in seconds. */
function sayTerms(terms: readonly Term[], shape: Shape): PredictedItem[] {
  const { voltage, resolutionA } = shape.features;
  const current = (watts: number): string =>
    formatCurrent(watts / Math.max(voltage.highest ?? feedVolts.unknown, 0.5), resolutionA);
  const words: Partial<Record<TermName, { value: (x: number) => string; phrase: (value: string) => string }>> = {
    before: { value: current, phrase: (value) => `${value} before power-on` },
    tail: { value: current, phrase: (value) => `${value} at the end` },
    peak: { value: current, phrase: (value) => `up to ${value}` },
    pulse: { value: current, phrase: (value) => `pulses of ${value}` },
    period: { value: formatSeconds, phrase: (value) => `the same again every ${value}` },
    contract: { value: formatVoltage, phrase: (value) => `${value} at the feed` },
  };
  const items = terms.flatMap((t): PredictedItem[] => {
    const word = words[t.name];
    const far = Math.abs(t.distance);
    if (!word || (t.name === 'contract' && far <= 2)) return [];
    const [predicted, seen] = [word.value(t.predicted), word.phrase(word.value(t.seen))];
    const said = word.phrase(predicted);
    return [
      {
        says: said === seen ? `${said}, as measured` : `${said}; seen: ${seen}`,
        of: t.name,
        seen,
        predicted,
        against: far * t.weight,
        fits: far < 1 ? 'yes' : far > 2 ? 'no' : 'either',
        span: spanOf(t.name, shape),
      },
    ];
  });
  return items.sort((a, b) => b.against - a.against);
}
