export * from './definition.ts';
export { alternativesOf, drawDevices } from './draw.ts';
export { editedProfile } from './edit.ts';
export { narrowedProfile } from './narrow.ts';
export { perturbProfile, usualSpread, type Spread } from './spread.ts';
export { soundUnit, startsSound } from './sound.ts';
export { populationFor, shippedPopulations } from './shipped.ts';
