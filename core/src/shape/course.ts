import type { Channels } from './pieces.ts';
import settings from './settings.json';

/** Windows of the course after its start, seconds, each about twice as long as the one before. */
export const courseWindows: readonly [number, number][] = settings.courseS
  .slice(1)
  .map((to, k) => [settings.courseS[k], to]);

/**
 * How the power goes after an instant: its mean in windows that double, so that a unit which is slower than another by
 * a third still falls into the same ones. Does not depend on where segments were cut.
 *
 * @param t0 start in seconds: the press, or the source coming on
 * @param t1 end of what counts
 * @param feedV volts to reckon the power with where none were recorded
 * @returns watts by window; null where the run does not reach or no sample falls
 */
export function courseOf(c: Channels, t0: number, t1: number, feedV: number): (number | null)[] {
  const sums = courseWindows.map(() => 0);
  const counts = courseWindows.map(() => 0);
  let k = 0;
  let window = 0;
  while (k < c.t.length && c.t[k] < t0) k++;
  for (; k < c.t.length && c.t[k] < t1 && window < courseWindows.length; k++) {
    const after = c.t[k] - t0;
    while (window < courseWindows.length && after >= courseWindows[window][1]) window++;
    if (window >= courseWindows.length || after < courseWindows[window][0]) continue;
    const volts = c.v[k];
    sums[window] += c.y[k] * (volts === volts ? volts : feedV);
    counts[window]++;
  }
  return courseWindows.map(([, to], w) =>
    counts[w] === 0 || t1 - t0 < settings.courseCover * to ? null : Math.max(0, sums[w] / counts[w]),
  );
}
