export { deviceTwinOf, predictAll, twinSetupOf, unpluggedIds, type DeviceTwin } from './device-twin.ts';
export { elementsOf, type Element, type Elements } from './elements.ts';
export {
  contextFor,
  describeOptionsFor,
  figuresOf,
  fullScaleA,
  healthyBand,
  repeatability,
  type BandStep,
  type ClassFigures,
} from './expectation.ts';
export { compareShapes, fitOf, type Closeness, type Comparison, type Seen, type Term, type TermName } from './fit.ts';
export { default as fitSettings } from './fit.json';
export { ladderChecks } from './ladder.ts';
export { takesAway, predictedMoves, twinTrust, type PredictedMoves } from './moves.ts';
export { predictedOutcome, trialsOf } from './outcomes.ts';
export { informedBy } from './profile-expect.ts';
export { featuresOf } from './predict.ts';
export { railsOf, predictRails, type ProbePhase } from './rail-table.ts';
export { runFit, type RunFit } from './run-fit.ts';
export {
  afterMain,
  afterOutcome,
  afterPatterns,
  devicesBelieved,
  groupedWorlds,
  outcomeOfGroup,
  patternsExpected,
  priorWeights,
  usualSetupsOf,
  type WorldWeights,
} from './world-belief.ts';
export { packWorlds, unpackWorlds } from './worlds-file.ts';
export { provideWorlds } from './worlds-source.ts';
export { worldsOf } from './worlds-store.ts';
export { makeWorlds, type Worlds } from './worlds.ts';
export { spaceOf, type Space } from './space.ts';
export { predictOutcome } from './predict-outcome.ts';
export { hasSymptom } from './symptom.ts';
export { movedBetween, Trial, type Moved } from './trial.ts';
