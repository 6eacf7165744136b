export * from './quantity/index.ts';
export * from './trace/index.ts';
export * from './catalogue/index.ts';
export * from './case/index.ts';
export * from './shape/index.ts';
export * from './twin/index.ts';
export * from './formats/index.ts';
export * from './sketch/index.ts';
export * from './population/index.ts';
export {
  baseRates,
  circuitsWithoutElement,
  hypothesesOf,
  indexOf,
  likelySamePlace,
  remarkIds,
  withNames,
  type Hypothesis,
} from './hypotheses/index.ts';
export { decibansOf, entropyBits, expectedBits, type Outlook } from './inference/index.ts';
export {
  contextFor,
  deviceTwinOf,
  featuresOf,
  figuresOf,
  fullScaleA,
  hasSymptom,
  healthyBand,
  makeWorlds,
  packWorlds,
  predictOutcome,
  provideWorlds,
  railsOf,
  repeatability,
  Trial,
  unpackWorlds,
  worldsOf,
  type BandStep,
  type ProbePhase,
} from './prediction/index.ts';
export {
  sayDevicesLeft,
  type Candidate,
  type DevicesLeft,
  type DeviceTrait,
  earlierRun,
  isHealthy,
  sameSetup,
  partStates,
  phaseOf,
  sayOutcome,
  seenRun,
  senseOf,
  shortedRail,
  spontaneousChanges,
  standingLevel,
  unplugSteps,
  type UnplugStep,
  withUndone,
  type History,
  type SeenRun,
} from './observation/index.ts';
export * from './proof/index.ts';
export {
  moves,
  sayEvidence,
  sayLeftOut,
  sayReason,
  type MovedWord,
  type Reason,
  type WeighedEvidence,
} from './reasons/index.ts';
export {
  feeOf,
  isolationOf,
  minutesOf,
  openingMinutes,
  openTests,
  rankTests,
  repairCost,
  repairMinutes,
  sayOutlook,
  searchAhead,
  successOf,
  usualShop,
  valueOfContinuing,
  type Prediction,
  type RankedTest,
  type ShopPolicy,
  type Suggestion,
} from './decide/index.ts';
export * from './library/index.ts';
export * from './diagnosis/index.ts';
export * from './bench/index.ts';
export * from './workbench/index.ts';
export * from './practice/index.ts';
export * from './board/index.ts';
export * from './made-up/index.ts';
export * from './numbers.ts';
