export { decibansOf } from './explanation.ts';
export { entropyBits, expectedBits } from './information.ts';
export { logSumExp, normaliseWeights, normaliseLogs, sumBy } from './log-space.ts';
export { outlookOf, type LookAheadRules, type OpenTest, type Outlook } from './look-ahead.ts';
export type { PerCircuit, PerHypothesis, PerRail, PerState } from './per.ts';
export {
  moveStates,
  observeOutcome,
  predictiveProbability,
  splitPlace,
  startChain,
  type Chain,
  type StateTable,
} from './state-filter.ts';
