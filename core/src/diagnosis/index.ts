export { assess, assessmentFormat, describe, engineVersion, type AssessedRun, type Assessment } from './assess.ts';
export {
  contextFor,
  figuresOf,
  fullScaleA,
  healthyBand,
  repeatability,
  type BandStep,
  type ClassFigures,
} from './expectation.ts';
export { tableModel } from './tables.ts';
export type { LikelihoodModel, PerCircuit } from './model.ts';
export { expectedBits, type Suggestion } from './next.ts';
export { outlookOf, sayOutlook, type OpenTest, type Outlook } from './outlook.ts';
export { repairMinutes, usualShop, worthOfGoingOn, type ShopPolicy } from './stop.ts';
export { entropyBits, type CircuitProbability, type WeighedEvidence } from './posterior.ts';
export { senseOf, type ReadingSense } from './readings.ts';
export { comparedNames, compareRuns, type Compared, type RunComparison, type RunDifference } from './comparing.ts';
export { healthyPatterns, seenRun, type SeenRun } from './runs.ts';
export { deviceTwinOf, twinSetupOf, type DeviceTwin } from './device-twin.ts';
export { circuitsWithoutElement, hypothesesOf, type Hypothesis } from './hypotheses.ts';
export { hasSymptom, predictOutcome, Trial, type Moved } from './predict-checks.ts';
export { priorOf, type Target } from './posterior.ts';
export { type ConfirmedCounts, type Counts } from './confirmed.ts';
export { predictedDraw, type Foretold, type PredictedStretch, type SuspectDraw } from './band.ts';
export { believe, type AssessOptions, type Believed } from './belief.ts';
export { heatLikelihood, heatSeenOf, shortedRail, type HeatSeen } from './heat-seen.ts';
export { movedByWork, movedLikelihoods } from './interventions.ts';
export { railsOf, railsTold, type ProbePhase, type RailsTold, type RailTold } from './rail-table.ts';
export { readingTrust } from './twin-checks.ts';
export { depthReached, openingMinutes } from './opening.ts';
export { spontaneousChanges, unplugSteps, type SpontaneousChange, type UnplugStep } from './unplug-steps.ts';
