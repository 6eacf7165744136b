export { type LadderRung, type RungPhase, type RungReading } from './board-ladder.ts';
export { byElements, planBoard, type BoardPlan } from './board-plan.ts';
export { predictChange, type ChangePrediction, type PlannedChange } from './change.ts';
export { parseReading, type Entry as TypedEntry, type EntryContext, type TypedReading } from './entry.ts';
export { heatTree, levelsOf, readHeat, suspectHeat, type HotPlace } from './heat-tree.ts';
export {
  capacitorAdvice,
  checkInjection,
  leakAt,
  operatingPoint,
  type InjectionStep,
  planInjection,
  type InjectionOf,
  type InjectionPlan,
} from './injection.ts';
export {
  contradictionsOf,
  findingOf,
  needsOf,
  rungsOf,
  type Contradiction,
  type RailFinding,
  type Rung,
} from './ladder.ts';
export { inputAmps, shortOhm, throughLeads } from './leads.ts';
export { injectionFacts, type RailFacts } from './rail-facts.ts';
export { compareReading, type Comparable, type ReadingComparison } from './reference.ts';
export { parseSweep, type Sweep } from './sweep.ts';
export { parseMainVoltage } from './main-voltage.ts';
