export {
  blankImage,
  blurredImage,
  brightnessAt,
  grayOf,
  mirroredImage,
  reducedImage,
  type GrayImage,
  type Point,
  type Quad,
} from './image.ts';
export { invertedProjection, isConvex, projectedPoint, projectionOf, rectifiedField } from './projection.ts';
export { drawDisplay, pointsOf, type ShownNumber } from './render/display.ts';
export { litSegments } from './render/segments.ts';
export { drawStyle, type DisplayStyle, type StyleFamily } from './render/style.ts';
export { cellOf, charactersOf, type CharacterBox, type CharacterRow } from './read/characters.ts';
export { levelledField } from './read/level.ts';
export { fieldCharacters, type Unread } from './read/field.ts';
export { characters, classify, hiddenOf, outputs, type Network } from './classify/network.ts';
export { restoredNetwork, storedNetwork, type StoredNetwork } from './classify/stored.ts';
export { pointPlaces, readField, type Candidate } from './read/candidate.ts';
export { FieldSequence, type Doubt } from './read/sequence.ts';
export { shippedNetwork } from './classify/shipped.ts';
export { findInPictures, findNumbers, isWithin, type FoundNumber } from './find/find.ts';
export { componentsOf, type Component } from './find/components.ts';
export {
  readFraming,
  cornersIn,
  cornersOf,
  shownQuantities,
  type FramedNumber,
  type Framing,
  type ShownQuantity,
} from './watch/framing.ts';
export { refreshPeriod } from './watch/refresh.ts';
export { powerAgrees, type ShownStep } from './watch/power.ts';
export { Follower, type Moved } from './watch/follow.ts';
export { Recently } from './watch/recently.ts';
export { refoundIn } from './watch/refound.ts';
export {
  DisplayReader,
  type DisplayNote,
  type DisplayReading,
  type DisplayState,
  type ReadingDoubt,
} from './watch/display-reader.ts';
