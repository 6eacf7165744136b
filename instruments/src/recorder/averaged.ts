import { mean, sampleStandardDeviation } from 'simple-statistics';
import type { LiveSample } from '../instrument/index.ts';
import type { Averaged } from './station-state.ts';

/**
 * Mean and spread of what an instrument showed.
 *
 * @param samples at least two
 * @returns volts and amperes as they were shown, with their sample standard deviation
 */
export function averaged(samples: readonly LiveSample[]): Averaged {
  const of = (values: number[]) => ({ mean: mean(values), spread: sampleStandardDeviation(values) });
  return { readings: samples.length, volts: of(samples.map((s) => s.v)), amps: of(samples.map((s) => s.i)) };
}
