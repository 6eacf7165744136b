import type { CheckId } from '../case/index.ts';
import table from './data/shown.json';
import type { SeenRun } from './runs.ts';

/** What a check would show, as far as the runs have shown it already. */
export interface ShownOutcome {
  outcome: string;
  /** Probability that the check only repeats what was seen, 0 to 1. */
  certainty: number;
}

type Row = Partial<Record<CheckId, [string, number]>>;

/**
 * Outcomes that the runs give away: a device that drew nothing after the press has a dark screen, whoever is at fault,
 * so looking at it tells nothing more. Only of runs in which the device had to start from the feed alone.
 */
export function shownByRuns(seen: readonly SeenRun[]): Map<CheckId, ShownOutcome> {
  const out = new Map<CheckId, ShownOutcome>();
  for (const { run, patterns, shape } of seen) {
    const [top] = patterns;
    const { battery, deviceState, assembly } = run.setup;
    const alone = run.feed === 'battery' || battery === 'absent' || battery === 'disconnected' || run.feed === 'dc-in';
    const asItCame = run.after === null && assembly !== 'half' && deviceState !== 'running' && deviceState !== 'asleep';
    if (!alone || !asItCame || top.p < table.leastPattern) continue;
    const row = (table.byPattern as unknown as Record<string, Row>)[top.id] ?? {};
    for (const [check, told] of Object.entries(row) as [CheckId, [string, number]][]) {
      // A hold before anybody pressed leaves open what pressing does.
      if (check === 'press-response' && !shape.features.prompted) continue;
      const certainty = told[1] * top.p;
      if (certainty > (out.get(check)?.certainty ?? 0)) out.set(check, { outcome: told[0], certainty });
    }
  }
  return out;
}

/** The outcomes of a check, given what the runs have shown of it: for all hypotheses alike, as far as that is sure. */
export function givenShown(
  outcomes: Record<string, number[]> | null,
  shown: ShownOutcome | undefined,
): Record<string, number[]> | null {
  if (!outcomes || !shown || !Object.hasOwn(outcomes, shown.outcome)) return outcomes;
  const { outcome, certainty } = shown;
  return Object.fromEntries(
    Object.entries(outcomes).map(([word, likelihood]) => [
      word,
      likelihood.map((p) => (1 - certainty) * p + (word === outcome ? certainty : 0)),
    ]),
  );
}
