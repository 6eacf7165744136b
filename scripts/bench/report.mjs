import { readFileSync } from 'node:fs';

export const results = [];

/** Whether every part only shows that it runs, in the smallest size: its figures mean nothing then. */
export const isSmallest = process.argv.includes('--smallest');

/** A size as it is measured, or the smallest at which the part runs. */
export const sized = (usual, smallest) => (isSmallest ? smallest : usual);

/** Puts a figure into the table. `met` is null where there is no target. */
export function report(what, value, unit, target, met, baseline = '') {
  results.push({ what, value, unit, target, met, baseline });
}

export const median = (xs) => [...xs].sort((a, b) => a - b)[xs.length >> 1];

/** The value that a share of all does not exceed. */
export const quantile = (xs, share) =>
  [...xs].sort((a, b) => a - b)[Math.min(xs.length - 1, Math.floor(share * xs.length))];

/** Median milliseconds of several runs after one to warm up. */
export function time(work, repeats = 5) {
  work();
  const ms = [];
  for (let k = 0; k < repeats; k++) {
    const began = performance.now();
    work();
    ms.push(performance.now() - began);
  }
  return median(ms);
}

const statusOf = (pid, key) =>
  Number(new RegExp(`${key}:\\s+(\\d+)`).exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) * 1024;
export const memoryOf = (pid) => statusOf(pid, 'VmRSS');
export const memoryPeak = (pid) => statusOf(pid, 'VmHWM');
