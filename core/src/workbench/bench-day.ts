import type { BenchDay } from './schedule/index.ts';
import settings from './bench.json';

/** A bench that nobody has described: one of everything, nobody at work yet. */
export const usualBench: Omit<BenchDay, 'technicians'> = settings;
