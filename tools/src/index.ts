export * from './score.ts';
export * from './evidence.ts';
export { recogniseFaults, recognitionInstruments, recognitionSetups } from './recognition.ts';
export { countHealthy, healthyInstruments, typedDigest } from './healthy.ts';
export { learningFigures, learnModel } from './learning.ts';
export { playWholeCase, type Played } from './whole-case.ts';
export { compareClassifiers } from './classifiers.ts';
export { filmDisplay, findFilmed } from './filmed.ts';
export { randomTree } from './random-tree.ts';
export { compareRules, dayRules } from './day-rules.ts';
export { madeUpJobs } from './made-up-jobs.ts';
export { SimulatedBench, type BenchResult, type DayRule, type SimulateOptions } from './shop-day.ts';
export {
  enginePointsBy,
  learnerCall,
  learnerSpeeds,
  meanPoints,
  practiseUnits,
  unitBank,
  type BankUnit,
} from './learners.ts';
export { filmedKinds, filmPattern } from './filmed-pattern.ts';
export { filmTrace, type FilmedVideo } from './filmed-video.ts';
export { filmFile } from './film-file.ts';
export * from './display/index.ts';
