export { readPopulation } from './read.ts';
