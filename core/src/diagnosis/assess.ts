import { checkTypes, circuitIds, circuitNames, isCheck, type Case, type CheckId } from '../case/index.ts';
import { clip } from '../quantity/index.ts';
import type { Marker, Summary, Trace } from '../trace/index.ts';
import { describeRun, topPattern, type PatternProbability, type Segment, type Shape } from '../shape/index.ts';
import { actionEvidence } from './actions.ts';
import { comparisonEvidence } from './compare.ts';
import { confirmedEvidence, type ConfirmedCounts } from './confirmed.ts';
import policy from './data/policy.json';
import { describeOptionsFor } from './expectation.ts';
import { evidence, type EvidenceItem, type LikelihoodModel } from './model.ts';
import { planNext, type Suggestion } from './next.ts';
import type { Outlook } from './outlook.ts';
import { deviceTwinOf, type DeviceTwin } from './device-twin.ts';
import { circuitsWithoutElement } from './hypotheses.ts';
import { informedBy } from './profile-expect.ts';
import { explain, posteriorOf, priorOf, priorOfHypotheses, toCircuits, type CircuitProbability } from './posterior.ts';
import { readingEvidence } from './readings.ts';
import { runEvidence, seenRun, type SeenRun } from './runs.ts';
import { givenShown, shownByRuns, type ShownOutcome } from './shown.ts';
import { movedLikelihood } from './interventions.ts';
import { tableModel } from './tables.ts';
import { byElement } from './unplugging.ts';
import { outcomeModel, readingLikelihood } from './twin-checks.ts';
import { runLogLikelihood } from './twin-runs.ts';
import type { Profile } from '../twin/index.ts';

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
 * @param options.profiles the shop's own profiles by id
 * @param options.confirmed what the shop has confirmed before, without this case
 * @param options.runWarnings sentences by run id that came up while reading
 */
export function assess(
  given: Case,
  shapes: ReadonlyMap<string, Shape>,
  options: {
    model?: LikelihoodModel;
    profiles?: ReadonlyMap<string, Profile>;
    confirmed?: ConfirmedCounts;
    runWarnings?: ReadonlyMap<string, string[]>;
    warnings?: string[];
  } = {},
): Assessment {
  const model = options.model ?? tableModel;
  const twin = deviceTwinOf(given.device, given.runs, options.profiles);
  const value = informedBy(given, twin);
  const seen: SeenRun[] = [];
  for (const run of value.runs) {
    const shape = shapes.get(run.id);
    if (shape) seen.push(seenRun(value, run, shape));
  }
  const { prior, items: intake } = priorOf(value);
  const fromTheShop = confirmedEvidence(prior, options.confirmed);
  const { hypotheses } = twin;
  const fromTheStart = priorOfHypotheses(prior, hypotheses);
  const shown = shownByRuns(seen);
  const actions = actionEvidence(value, seen, (action, run, moved, usual) =>
    movedLikelihood(twin, action, run, moved, usual),
  );
  const items: EvidenceItem[] = [
    ...intake,
    ...(fromTheShop ? [fromTheShop] : []),
    ...runEvidence(value, seen, model, (one, shares) => runLogLikelihood(value, one, twin, fromTheStart, shares)),
    ...comparisonEvidence(seen, model).map((item) => byElement(item, twin)),
    ...checkEvidence(value, model, twin, shown),
    ...readingEvidence(value, twin.closeness, (reading, sense, usual) =>
      readingLikelihood(twin, value, reading, sense, usual),
    ),
    ...actions.items,
  ];
  const posterior = posteriorOf(fromTheStart, hypotheses, items);
  const circuits = toCircuits(posterior, hypotheses);
  // What is all but excluded does not change which test is best, and asking the twin about it takes time.
  const plausible = (h: number): boolean => posterior[h] > policy.plausibleFrom;
  const outcomes = (check: CheckId) => givenShown(outcomeModel(twin, model, check, plausible), shown.get(check));
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
    circuits: explain(posterior, hypotheses, items, twin.closeness === 'own').filter((c) => c.p >= 0.001),
    ...planNext(
      value,
      { posterior, hypotheses, circuits, outcomes },
      seen.map((s) => topPattern(s.patterns)),
    ),
    warnings: [...(options.warnings ?? []), ...actions.warnings, ...notStarted(twin, circuits), ...hazards(value)],
  };
}

/**
 * Evidence from outcomes of checks. The last outcome of a check counts. Several that all ask how far it starts are not
 * independent and share their weight.
 */
function checkEvidence(
  value: Case,
  model: LikelihoodModel,
  twin: DeviceTwin,
  shown: ReadonlyMap<CheckId, ShownOutcome>,
): EvidenceItem[] {
  const last = new Map<CheckId, string>();
  for (const check of value.checks) if (isCheck(check.id) && check.outcome !== null) last.set(check.id, check.outcome);
  const items: EvidenceItem[] = [];
  const alike = [...last.keys()].filter((id) => policy.alikeChecks.includes(id)).length;
  const shared = (1 + policy.nextAlikeCheck[twin.closeness] * (alike - 1)) / Math.max(1, alike);
  for (const [id, outcome] of last) {
    const weight = policy.checkWeight[twin.closeness] * (policy.alikeChecks.includes(id) ? shared : 1);
    const likelihood = model.outcomes(id)?.[outcome];
    if (!likelihood) continue;
    const fine = givenShown(outcomeModel(twin, model, id), shown.get(id))?.[outcome];
    const sentence = `check: ${checkTypes[id].name.toLowerCase()}: ${outcome.replaceAll('-', ' ')}`;
    const item = evidence(`check:${id}`, sentence, likelihood, weight);
    items.push(fine ? { ...item, fine: fine.map((x) => weight * Math.log(Math.max(x, 1e-6))) } : item);
  }
  return items;
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
  for (const check of value.checks) {
    if (check.id === 'visual' && check.outcome === 'swollen')
      out.push('The board check found a swollen cell: isolate it in a fire-safe place before going on.');
    if (!isCheck(check.id)) out.push(`The check "${clip(check.id)}" is not known and was not used.`);
  }
  return out;
}
