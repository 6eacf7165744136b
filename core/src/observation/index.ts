export { type ChangeCandidate, type Needs } from './change-candidates.ts';
export { checkApplies } from './check-applies.ts';
export { checkQuestion } from './check-table.ts';
export { default as checkRules } from './checks.json';
export { devicesLeft, sayDevicesLeft, type DevicesLeft, type DeviceTrait } from './devices-left.ts';
export { damagedPlaces, placeCandidates } from './place-candidates.ts';
export { heatLikelihood, shortedRail } from './heat-question.ts';
export { ohmOf } from './injected-ohm.ts';
export {
  isLeftOut,
  type Candidate,
  type Entry,
  type History,
  type LeftOut,
  type ObservationKind,
  type Observed,
} from './kind.ts';
export { isLocated } from './located.ts';
export { movedBetweenRuns, movedQuestion } from './moved.ts';
export { patternTable } from './pattern-table.ts';
export {
  faultStates,
  likelihoodsOf,
  overPlaces,
  withAnyFault,
  stateIndex,
  type FaultState,
  type Over,
  type Question,
  type SharedFact,
  type Shown,
} from './question.ts';
export { startingAlike } from './starting.ts';
export { groundQuestion } from './ground-question.ts';
export { placeBefore, questionOf } from './reading-question.ts';
export { railIndexOf } from './reading-tables.ts';
export { phaseOf, voltageQuestion } from './voltage-question.ts';
export { usualPoints, type UsualPoint } from './reading-candidates.ts';
export { isAcross, nominalOf, senseOf, type PlaceBefore, type Sense } from './reading-sense.ts';
export { observationKinds } from './registry.ts';
export { profileTrust } from './profile-trust.ts';
export { patternQuestion } from './run.ts';
export { earlierRun, sameSetup } from './run-before.ts';
export {
  isHealthy,
  isOfHalf,
  readsTheSame,
  seenRun,
  standingLevel,
  withWaiting,
  type SeenRun,
} from './observed-run.ts';
export { groundFindings, isSamePoint, readsShort, shortsOf, type Found, type MeasuredShort } from './shorts.ts';
export { isConfounded, isOfCircuit, reachOf, spontaneousOf, transitionOf } from './transition.ts';
export { hasPackIn, swollenPack, partsAway, partStates, withUndone } from './part-states.ts';
export { runShowsLife, seenNow, showsItFails, showsItWorks, signsOf, wasSeenWorking, type Sign } from './works.ts';
export { spontaneousChanges, spontaneousWarnings, unplugSteps, type UnplugStep } from './unplug.ts';
export { namesOfHot } from './heat-question.ts';
export { sayOutcome } from './say-outcome.ts';
export {
  assembliesOf,
  isOwn,
  isSplit,
  outside,
  sameAssembly,
  swappedUnit,
  type Assembly,
  type Thing,
} from './assembly.ts';
