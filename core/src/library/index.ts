export {
  comparable,
  comparableKey,
  signatureOf,
  type LibraryCase,
  type Signature,
  type SignatureSetup,
} from './signature.ts';
export {
  alikeCases,
  likenessOf,
  modelKey,
  repeatedCase,
  type AlikeCase,
  type AlikeOptions,
  type RunPair,
} from './alike.ts';
export { courseInstants, courseLength } from './course.ts';
export { featureTypes, type FeatureDefinition } from './features.ts';
export { distanceOf } from './distance.ts';
export { learnedWorth, type ModelCounts } from './pooling.ts';
export { learnedTrust, trustsTried, type TrustScores } from './trust.ts';
export { SignatureIndex, type Neighbour, type SearchOptions } from './search.ts';
