import { type StartUp } from '../twin/index.ts';
import rules from './check-rules.json';
import { wattsBetween, voltsAt } from './readings-of-start.ts';
import { isDisplay } from './predict-outcome.ts';
import type { Trial } from './trial.ts';

/** Whether the owner of a device would notice: it takes much less or much more than a healthy one, or another contract. */
function isNoticed(sick: StartUp, healthy: StartUp): boolean {
  if (sick.running !== healthy.running || sick.restarts !== healthy.restarts) return true;
  if (Math.abs(voltsAt(sick, rules.at.settledS) - voltsAt(healthy, rules.at.settledS)) >= 0.5) return true;
  return [
    [rules.at.earlyFromS, rules.at.earlyToS],
    [rules.at.lateFromS, rules.at.lateToS],
  ].some(([t0, t1]) => {
    const [a, b] = [wattsBetween(sick, t0, t1), wattsBetween(healthy, t0, t1)];
    return a > rules.noticedMore * b + rules.alikeW || a < rules.noticedLess * b - rules.alikeW;
  });
}

/**
 * Whether anybody would bring a device with this fault to a bench: it does not start, has no picture, does not charge as
 * it should on some port, drains while it rests, or takes so much that it warms and runs down.
 */
export function hasSymptom(trial: Trial): boolean {
  if (trial.faults.length === 0) return false;
  const healthy = trial.healthyTwin();
  const setups: ((t: Trial) => StartUp | null)[] = [
    (t) => t.bench(),
    (t) => t.outside(),
    (t) => t.outside({ flipped: true }),
    ...trial.board.profile.ports.slice(1).map((_, k) => (t: Trial) => t.outside({ port: k + 2 })),
    (t) => t.outside({ promptS: null }),
  ];
  const noticed = setups.some((s) => {
    const [a, b] = [s(trial), s(healthy)];
    return a !== null && b !== null && isNoticed(a, b);
  });
  if (noticed || trial.faults.some((f) => isDisplay(trial, f) && f.kind !== 'short')) return true;
  const [a, b] = [trial, healthy].map((t) => {
    const s = t.bench();
    return s ? wattsBetween(s, rules.at.earlyFromS, rules.at.restToS) : 0;
  });
  return a > 2 * b + rules.drainW;
}
