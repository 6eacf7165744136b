export { assess, assessmentFormat, describe, engineVersion, type AssessedRun, type Assessment } from './assess.ts';
export { contextFor, figuresOf, fullScaleA, healthyBand, type BandStep, type ClassFigures } from './expectation.ts';
export { tableModel } from './tables.ts';
export type { LikelihoodModel, PerCircuit } from './model.ts';
export { expectedBits, type Suggestion } from './next.ts';
export { entropyBits, type CircuitProbability, type WeighedEvidence } from './posterior.ts';
export { senseOf, type ReadingSense } from './readings.ts';
export { healthyPatterns } from './runs.ts';
