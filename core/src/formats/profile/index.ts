export * from './read.ts';
export * from './write.ts';
export { linesOfPlaces } from './yaml.ts';
