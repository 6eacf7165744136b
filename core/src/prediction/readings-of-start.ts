import { type StartUp } from '../twin/index.ts';
import rules from './check-rules.json';

/**
 * Mean watts at the feed between two instants.
 *
 * @param s a start-up
 * @param t0 seconds of the run
 * @param t1 seconds, after `t0`
 */
export function wattsBetween(s: StartUp, t0: number, t1: number): number {
  let sum = 0;
  let seconds = 0;
  for (const x of s.segments) {
    const overlap = Math.min(x.t1, t1) - Math.max(x.t0, t0);
    if (overlap <= 0) continue;
    sum += x.meanA * x.volts * overlap;
    seconds += overlap;
  }
  return seconds > 0 ? sum / seconds : 0;
}

/**
 * Volts at the feed at an instant; 0 where the run has ended.
 *
 * @param s a start-up
 * @param t seconds of the run
 */
export function voltsAt(s: StartUp, t: number): number {
  return s.segments.find((x) => x.t0 <= t && t < x.t1)?.volts ?? 0;
}

/** Whether two start-ups read the same to somebody at a meter. */
export function readsAlike(a: StartUp, b: StartUp): boolean {
  const alike = (x: number, y: number): boolean =>
    Math.abs(x - y) <= Math.max(rules.alikeW, rules.alikeShare * Math.max(x, y));
  return (
    Math.abs(voltsAt(a, rules.at.settledS) - voltsAt(b, rules.at.settledS)) < 0.5 &&
    alike(
      wattsBetween(a, rules.at.earlyFromS, rules.at.earlyToS),
      wattsBetween(b, rules.at.earlyFromS, rules.at.earlyToS),
    ) &&
    alike(wattsBetween(a, rules.at.lateFromS, rules.at.lateToS), wattsBetween(b, rules.at.lateFromS, rules.at.lateToS))
  );
}
