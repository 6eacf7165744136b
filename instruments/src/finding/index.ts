export { findAt, portsHere, usualPlaces, type FoundAt, type FoundInstrument, type PortHere } from './find.ts';
export { listen, tryInstrument, type HeardPiece, type Tried } from './try.ts';
export { framesIn, guessFields, guessFraming, type GuessedField, type GuessedFraming } from './teach.ts';
