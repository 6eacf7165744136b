export {
  assess,
  assessmentFormat,
  assessmentOf,
  describe,
  type AssessedRun,
  type Assessment,
  type FullOptions,
} from './assess.ts';
export { predictedDraw, type PredictedItem, type PredictedStretch, type SuspectDraw } from './band.ts';
export { believe, type Belief, type Now, type WeighedObservation } from './belief.ts';
export { historyOf, type AssessOptions } from './history.ts';
export { byCircuit, explainCircuits, type CircuitProbability, type Target, type WeighedEvidence } from './circuits.ts';
export { conclude, type Conclusion, type ConclusionState, type OutcomeProposal } from './conclusion.ts';
export { learnedProfile, type Drift, type HealthyRun, type LearnedProfile } from './learned-profile.ts';
export { lessonOf, type Lesson } from './lesson.ts';
export { outsideOnly } from './outside.ts';
export { engineVersion, worldsFile } from './version.ts';
export type { UnnamedPlace } from './unnamed.ts';
