export { findAt, portsHere, usualPlaces, type FoundAt, type FoundInstrument } from './find.ts';
export { listen, tryInstrument, type Tried } from './try.ts';
export { framesIn, guessFields, guessFraming, type GuessedField, type GuessedFraming } from './teach.ts';
