export * from './virtual-case.ts';
export * from './score.ts';
export {
  recogniseFaults,
  recognitionInstruments,
  recognitionSetups,
  type Recognised,
  type RunCourse,
} from './recognition.ts';
export { countHealthy, healthyInstruments, typedDigest, type HealthyCount } from './healthy.ts';
export { learningFigures, learnModel, type LearningFigures, type LearningOptions } from './learning.ts';
export { playWholeCase, type Played, type Way } from './whole-case.ts';
export { compareClassifiers, type ClassifierCount } from './classifiers.ts';
export { filmDisplay, type FilmedCount } from './filmed.ts';
export { randomTree } from './random-tree.ts';
export { shopJob, type ShopJob } from './shop-year.ts';
export { compareRules, dayRules } from './day-rules.ts';
export { madeUpJobs } from './made-up-jobs.ts';
export { SimulatedBench, type BenchResult, type DayRule, type SimulateOptions } from './shop-day.ts';
export {
  enginePointsBy,
  learnerCall,
  learnerSpeeds,
  meanPoints,
  practise,
  unitBank,
  type BankUnit,
  type Practised,
} from './learners.ts';
export { filmedKinds, filmPattern, type FilmedKind, type FilmedPattern } from './filmed-pattern.ts';
export { filmTrace, type FilmedVideo } from './filmed-video.ts';
export { filmFile } from './film-file.ts';
