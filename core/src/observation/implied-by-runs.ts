import { namedChecks, patternTypes, type CheckId } from '../catalogue/index.ts';
import rules from './implied-by-runs.json';
import type { SeenRun } from './observed-run.ts';

/** What a check would show, as far as the runs have shown it already. */
interface ImpliedOutcome {
  outcome: string;
  /** Probability that the check only repeats what was seen, 0 to 1. */
  certainty: number;
}

/**
 * Outcomes that the runs give away: a device that drew nothing after the press has a dark screen, whoever is at fault,
 * so looking at it tells nothing more. Only of runs in which the device had to start from the feed alone.
 */
export function impliedByRuns(seen: readonly SeenRun[]): Map<CheckId, ImpliedOutcome> {
  const out = new Map<CheckId, ImpliedOutcome>();
  for (const { run, patterns, shape } of seen) {
    const [top] = patterns;
    const { battery, deviceState, assembly } = run.setup;
    const alone = run.feed === 'battery' || battery === 'absent' || battery === 'disconnected' || run.feed === 'dc-in';
    const asItCame = assembly !== 'half' && deviceState !== 'running' && deviceState !== 'asleep';
    const { isHold = false, implies = {} } = patternTypes[top.id];
    if ((!alone && !isHold) || !asItCame || top.p < rules.minPattern) continue;
    for (const check of Object.keys(implies) as CheckId[]) {
      const [outcome, share] = implies[check];
      // A hold before anybody pressed leaves open what pressing does.
      if (check === namedChecks.press && !shape.features.prompted && !isHold) continue;
      const certainty = share * top.p * (shape.features.prompted || isHold ? 1 : rules.unpressed);
      if (certainty > (out.get(check)?.certainty ?? 0)) out.set(check, { outcome, certainty });
    }
  }
  return out;
}
