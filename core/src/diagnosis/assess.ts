import { circuitIds, circuitNames, isCheck, type Case } from '../case/index.ts';
import { clip } from '../quantity/index.ts';
import type { Marker, Summary, Trace } from '../trace/index.ts';
import { describeRun, topPattern, type PatternProbability, type Segment, type Shape } from '../shape/index.ts';
import { believe, type AssessOptions } from './belief.ts';
import policy from './data/policy.json';
import type { DeviceTwin } from './device-twin.ts';
import { describeOptionsFor } from './expectation.ts';
import { circuitsWithoutElement } from './hypotheses.ts';
import { planNext, type Suggestion } from './next.ts';
import type { Outlook } from './outlook.ts';
import type { ShopPolicy } from './stop.ts';
import { explain, toCircuits, type CircuitProbability } from './posterior.ts';

export const assessmentFormat = 'umbral-assessment/1';
export const engineVersion = '0.1.0';

export interface AssessedRun {
  id: string;
  pattern: PatternProbability[];
  segments: Segment[];
  markers: Marker[];
  warnings: string[];
  summary: Summary;
}

/** What the engine says about a case: immutable, with the version of the engine that said it. */
export interface Assessment {
  format: typeof assessmentFormat;
  engine: string;
  runs: AssessedRun[];
  circuits: CircuitProbability[];
  next: Suggestion[];
  /** How long until it is decided. */
  outlook: Outlook;
  warnings: string[];
}

/** What is seen in one run of a device; does not depend on anything else in the case. */
export function describe(
  value: Pick<Case, 'device'>,
  run: Case['runs'][number],
  trace: Trace,
  summary: Summary | null,
): Shape {
  return describeRun(trace, run.markers, { ...describeOptionsFor(value.device, run), summary: summary ?? undefined });
}

/**
 * Diagnoses a case from the shapes of its runs.
 *
 * @param shapes by run id; a run without a shape is left out
 * @param options.shop what the shop earns and does not do; the usual where left out
 * @param options.runWarnings sentences by run id that came up while reading
 */
export function assess(
  given: Case,
  shapes: ReadonlyMap<string, Shape>,
  options: AssessOptions & { shop?: ShopPolicy; runWarnings?: ReadonlyMap<string, string[]>; warnings?: string[] } = {},
): Assessment {
  const believed = believe(given, shapes, options);
  const { value, twin, seen, posterior, items } = believed;
  const circuits = toCircuits(posterior, twin.hypotheses);
  return {
    format: assessmentFormat,
    engine: engineVersion,
    runs: seen.map(({ run, shape, patterns }) => ({
      id: run.id,
      pattern: patterns.filter((p) => p.p >= 0.001),
      segments: shape.segments,
      markers: shape.markers,
      warnings: [...(options.runWarnings?.get(run.id) ?? []), ...shape.warnings, ...shape.features.contradictions],
      summary: shape.summary,
    })),
    circuits: explain(posterior, twin.hypotheses, items, twin.closeness === 'own').filter((c) => c.p >= 0.001),
    ...planNext(
      value,
      { posterior, hypotheses: twin.hypotheses, circuits, outcomes: believed.outcomes },
      seen.map((s) => topPattern(s.patterns)),
      options.shop,
    ),
    warnings: [...(options.warnings ?? []), ...believed.warnings, ...notStarted(twin, circuits), ...hazards(value)],
  };
}
/** Suspects that count but could not be started virtually, since the model's profile has nothing of the kind. */
function notStarted(twin: DeviceTwin, circuits: readonly number[]): string[] {
  if (twin.closeness !== 'own') return [];
  const { profile } = twin.board;
  return circuitsWithoutElement(profile)
    .filter((id) => circuits[circuitIds.indexOf(id)] >= policy.worthSaying)
    .map(
      (id) =>
        `${circuitNames[id]}: the profile "${clip(profile.name)}" has no element of it, so it was not started virtually and is judged by its pattern alone.`,
    );
}

function hazards(value: Case): string[] {
  const out: string[] = [];
  if (value.intake.batterySwollen)
    out.push('Swollen battery: stop, isolate it in a fire-safe place, do not charge it and do not press on it.');
  if (value.intake.dataWanted)
    out.push(
      'The data is wanted: aim at a device that runs long enough to be copied, not at one that is whole. Nothing that rewrites or takes off storage or boot data is proposed; copy first.',
    );
  for (const check of value.checks) {
    if (check.id === 'visual' && check.outcome === 'swollen')
      out.push('The board check found a swollen cell: isolate it in a fire-safe place before going on.');
    if (!isCheck(check.id)) out.push(`The check "${clip(check.id)}" is not known and was not used.`);
  }
  return out;
}
