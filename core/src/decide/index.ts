export { isolationOf, placesOf } from './isolation.ts';
export { depthReached, openingMinutes } from './opening.ts';
export { byCircuits, minutesOf, openTests, planNext, rankTests, type Plan } from './plan.ts';
export type { RankedTest } from './ranked.ts';
export { toSuggestion } from './suggest.ts';
export { sayOutlook } from './say-outlook.ts';
export { stageOf, type Stage } from './stage.ts';
export type { Grouping, Standing } from './standing.ts';
export { default as decidePolicy } from './policy.json';
export {
  expectedValue,
  feeOf,
  repairCost,
  repairGains,
  repairMinutes,
  searchAhead,
  successOf,
  usualShop,
  type ShopPolicy,
} from './economy.ts';
export { stopAdvice, valueOfContinuing, type StopAdvice } from './stop.ts';
export type { Prediction, Suggestion } from './suggestion.ts';
