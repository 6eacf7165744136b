export {
  benchNow,
  phaseOf,
  planBoard,
  type BoardPlan,
  type LadderRung,
  type ProposedTest,
  type RungPhase,
  type RungReading,
} from './board-plan.ts';
export { parseReading, type Entry, type EntryContext, type TypedReading } from './entry.ts';
export { byElement, elementsOf, type Element, type Elements } from './elements.ts';
export { heatTree, levelsOf, readHeat, suspectHeat, type HeatReading, type HotPlace } from './heat-tree.ts';
export {
  capacitorAdvice,
  checkInjection,
  leakAt,
  operatingPoint,
  planInjection,
  type InjectionOf,
  type InjectionPlan,
  type InjectionStep,
} from './injection.ts';
export {
  contradictionsOf,
  findingOf,
  firstMissing,
  needsOf,
  rungsOf,
  type Contradiction,
  type RailFinding,
  type Rung,
} from './ladder.ts';
export { inputAmps, shortOhm, throughLeads, type ThroughLeads } from './leads.ts';
export {
  afterOutcome,
  confirmingTest,
  leadingElement,
  minutesOf,
  nextTests,
  type BenchNow,
  type Isolation,
  type RankedTest,
} from './next-probe.ts';
export { compareReading, type Comparable, type ReadingComparison } from './reference.ts';
export { boardTests, type BoardTest, type BoardTestKind } from './tests.ts';
export { predictChange, type ChangePrediction } from './change.ts';
export { railFacts, type RailFacts } from './rail-facts.ts';
