import { mean, sampleStandardDeviation } from 'simple-statistics';
import type { LiveSample } from '../instrument/index.ts';
import type { Averaged } from './station-state.ts';

/**
 * Mean and spread of what an instrument showed.
 *
 * @param samples at least two
 * @returns volts and amperes as they were shown, with their sample standard deviation
 */
export function averageReadings(samples: readonly LiveSample[]): Averaged {
  const of = (values: number[]) => ({ mean: mean(values), spread: sampleStandardDeviation(values) });
  return { readings: samples.length, volts: of(samples.map((s) => s.v)), amps: of(samples.map((s) => s.i)) };
}

/** What comes for so many seconds. */
export async function samplesFor(seconds: number, listeners: Set<(sample: LiveSample) => void>): Promise<LiveSample[]> {
  const samples: LiveSample[] = [];
  const listen = (sample: LiveSample): void => void samples.push(sample);
  listeners.add(listen);
  await new Promise((resolve) => setTimeout(resolve, 1000 * seconds));
  listeners.delete(listen);
  return samples;
}
