export {
  areComparable,
  comparableKey,
  modelKey,
  signatureOf,
  type LibraryCase,
  type Signature,
  type SignatureSetup,
} from './signature.ts';
export { alikeCases, likenessOf, type AlikeCase, type LibraryQuestion, type RunPair } from './alike.ts';
export { courseInstants, courseLength } from './course.ts';
export { featureTypes, type FeatureDefinition } from './features.ts';
export { distanceOf } from './distance.ts';
export { memoryOf, type Memory } from './memory.ts';
export { suspectGroup, type SuspectGroup } from './suspect-group.ts';
export { CaseShelf } from './shelf.ts';
export { SignatureIndex, type Neighbour } from './search.ts';
export { Library } from './known.ts';
export { comparedCase, nearCases, type NearCase } from './near.ts';
export { packSignature, signatureFormat, unpackSignature } from './pack.ts';
export {
  correctedP,
  fitRecalibration,
  recalibratedP,
  unpackCalls,
  type KnownCall,
  type PackedCalls,
  type Recalibration,
} from './recalibration.ts';
export {
  activeMinutes,
  addUp,
  countsOf,
  groupKeys,
  inOrderOf,
  logScoreOf,
  scorecardGroups,
  scorecardOf,
  type CallSums,
  type Figure,
  type FrozenCall,
  type ReliabilityBin,
  type Scorecard,
  type ScorecardGroup,
} from './scorecard.ts';
export { default as librarySettings } from './settings.json';
export { meantBy } from './meant.ts';
export { wilsonInterval, type Share } from './wilson.ts';
export {
  notebookLines,
  closestLines,
  levelsNear,
  phaseSaid,
  searchNotebook,
  type NotebookEntry,
  type NotebookLine,
  type NotebookQuery,
} from './notebook.ts';
