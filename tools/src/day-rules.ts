import type { JobInHand } from '@umbral/core';
import { madeUpJobs } from './made-up-jobs.ts';
import { SimulatedBench, type BenchResult, type DayRule, type SimulateOptions } from './shop-day.ts';

/** Every rule that the run sheet is held against: by due date, shortest step first, most euros a minute first. */
export const dayRules: readonly DayRule[] = ['sheet', 'due', 'cheapest', 'price'];

/** The same jobs worked by each rule, over several beginnings. */
export function compareRules(
  seeds: readonly number[],
  options: SimulateOptions & { aDay?: number; hands?: readonly JobInHand[]; rules?: readonly DayRule[] } = {},
): Partial<Record<DayRule, BenchResult>> {
  const out: Partial<Record<DayRule, BenchResult>> = {};
  for (const rule of options.rules ?? dayRules) {
    const sum: BenchResult = { euros: 0, hours: 0, finished: 0, declined: 0, withdrawn: 0, late: 0, due: 0 };
    for (const seed of seeds) {
      const one = new SimulatedBench(madeUpJobs(seed, options), rule, options).run();
      for (const key of Object.keys(sum) as (keyof BenchResult)[]) sum[key] += one[key];
    }
    out[rule] = sum;
  }
  return out;
}
