import { checkTypes, isCheck, type Case, type CheckId } from '../case/index.ts';
import type { Shape } from '../shape/index.ts';
import type { Profile } from '../twin/index.ts';
import { actionEvidence } from './actions.ts';
import { comparisonEvidence } from './compare.ts';
import { confirmedEvidence, type ConfirmedCounts } from './confirmed.ts';
import policy from './data/policy.json';
import { deviceTwinOf, type DeviceTwin } from './device-twin.ts';
import { heatEvidence } from './heat-seen.ts';
import { movedLikelihood } from './interventions.ts';
import { evidence, type EvidenceItem, type LikelihoodModel } from './model.ts';
import { posteriorOf, priorOf, priorOfHypotheses } from './posterior.ts';
import { informedBy } from './profile-expect.ts';
import { readingEvidence } from './readings.ts';
import { runEvidence, seenRun, type SeenRun } from './runs.ts';
import { givenShown, shownByRuns, type ShownOutcome } from './shown.ts';
import { tableModel } from './tables.ts';
import { outcomeModel, readingLikelihood } from './twin-checks.ts';
import { runLogLikelihood } from './twin-runs.ts';
import { byElement } from './unplugging.ts';
import { unplugEvidence } from './unplug-steps.ts';

export interface AssessOptions {
  model?: LikelihoodModel;
  /** The shop's own profiles by id. */
  profiles?: ReadonlyMap<string, Profile>;
  /** What the shop has confirmed before, without this case. */
  confirmed?: ConfirmedCounts;
}

/** What is believed of a device once everything in its case is weighed, with what it was weighed by. */
export interface Believed {
  /** The case as the engine takes it, with what the model's profile adds. */
  value: Case;
  twin: DeviceTwin;
  seen: SeenRun[];
  items: EvidenceItem[];
  /** By hypothesis of the twin; sums to 1. */
  posterior: number[];
  /** Probability of every outcome of a check by hypothesis. */
  outcomes: (check: CheckId) => Record<string, number[]> | null;
  warnings: string[];
}

/**
 * Weighs everything in a case: intake, runs, comparisons, checks, readings, actions.
 *
 * @param shapes by run id; a run without a shape is left out
 */
export function believe(given: Case, shapes: ReadonlyMap<string, Shape>, options: AssessOptions = {}): Believed {
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
  const unplugged = unplugEvidence(seen, twin, (h) => fromTheStart[h] > 0);
  const items: EvidenceItem[] = [
    ...intake,
    ...(fromTheShop ? [fromTheShop] : []),
    ...runEvidence(value, seen, model, (one, shares) => runLogLikelihood(value, one, twin, fromTheStart, shares)),
    ...comparisonEvidence(seen, model).map((item) => byElement(item, twin)),
    ...checkEvidence(value, model, twin, shown),
    ...heatEvidence(value, twin),
    ...unplugged.items,
    ...readingEvidence(value, twin.closeness, (reading, sense, usual) =>
      readingLikelihood(twin, value, reading, sense, usual),
    ),
    ...actions.items,
  ];
  const posterior = posteriorOf(fromTheStart, hypotheses, items);
  // What is all but excluded does not change which test is best, and asking the twin about it takes time.
  const plausible = (h: number): boolean => posterior[h] > policy.plausibleFrom;
  return {
    value,
    twin,
    seen,
    items,
    posterior,
    outcomes: (check) => givenShown(outcomeModel(twin, model, check, plausible), shown.get(check)),
    warnings: [...actions.warnings, ...unplugged.warnings],
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
