export * from './units.ts';
export * from './parse.ts';
export * from './format.ts';
export { remembered } from './remembered.ts';
