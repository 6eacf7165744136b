export { circuitsWithoutElement, hypothesesOf } from './faults.ts';
export {
  isSamePart,
  isToldApart,
  likelySamePlace,
  nameOverlap,
  placeAt,
  placesOf,
  saidOneNet,
  samePlace,
  sameNetByName,
  type NamedPlace,
} from './places.ts';
export { withNames } from './naming.ts';
export { perCircuit } from './per-circuit.ts';
export { baseRates, priorOf, priorOfHypotheses } from './priors.ts';
export { circuitsNamed, remarkIds, suggestedCircuits } from './vocabulary.ts';
export {
  circuitIndex,
  classHypotheses,
  elsewhereShare,
  pointOnNet,
  pullShare,
  indexOf,
  sameNetShare,
  type Hypothesis,
} from './space.ts';
