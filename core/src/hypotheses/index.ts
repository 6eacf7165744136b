export {
  pooledPrior,
  sayConfirmed,
  usualWorth,
  type ConfirmedCounts,
  type Counts,
  type PoolingWorth,
} from './confirmed.ts';
export { circuitsWithoutElement, hypothesesOf } from './faults.ts';
export { nameOverlap, placeAt, placeName, placesOf, samePlace, type NamedPlace } from './places.ts';
export { perCircuit } from './per-circuit.ts';
export { baseRates, priorOf, priorOfHypotheses, type PriorReason } from './priors.ts';
export { circuitsNamed, remarksIn, type Remark } from './vocabulary.ts';
export { circuitIndex, classHypotheses, elsewhereShare, indexOf, sameNetShare, type Hypothesis } from './space.ts';
