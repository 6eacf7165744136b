import type { Case, Run } from '../case/index.ts';
import { formatCurrent, formatPercent, formatSeconds, formatVoltage } from '../quantity/index.ts';
import {
  patternNames,
  recognise,
  topPattern,
  type PatternId,
  type PatternProbability,
  type Shape,
} from '../shape/index.ts';
import comparisons from './data/comparisons.json';
import policy from './data/policy.json';
import { contextFor, figuresOf } from './expectation.ts';
import { evidence, type EvidenceItem, type LikelihoodModel, type PerCircuit, type RunFacts } from './model.ts';

/** A run as the diagnosis knows it: what it is and what was seen in it. */
export interface SeenRun {
  run: Run;
  shape: Shape;
  patterns: PatternProbability[];
}

/** A run with what its shape is recognised as, for a device. */
export function seenRun(value: Case, run: Run, shape: Shape): SeenRun {
  return { run, shape, patterns: recognise(shape, contextFor(value, run)) };
}

/** Patterns that a healthy device shows. */
export const healthyPatterns: PatternId[] = ['normal-start', 'charge-normal', 'quiet', 'voltage-steady'];

export function isHealthy(seen: SeenRun): boolean {
  return healthyPatterns.includes(topPattern(seen.patterns));
}

export function factsOf(value: Case, seen: SeenRun): RunFacts {
  const { before } = seen.shape.features;
  const pulses = seen.shape.features.whole.pulses;
  return {
    context: contextFor(value, seen.run),
    deviceClass: value.device.class,
    family: figuresOf(value.device).family,
    phase: pulses === null ? null : before?.pulses || !seen.shape.features.prompted ? 'before' : 'after',
  };
}

/** What makes two runs repeats of one another: the same setup but for port, plug and set voltage. */
function setupKey({ run, shape }: SeenRun): string {
  const { battery, display, assembly, half, unplugged, deviceState, charger } = run.setup;
  return JSON.stringify([
    run.feed,
    run.quantity,
    battery,
    display,
    assembly,
    half,
    unplugged,
    deviceState,
    charger,
    shape.features.prompted,
  ]);
}

/**
 * Evidence from what each run shows. Repeats of one setup share the weight of one run, and other setups of one feed that
 * show the same pattern add only a little to it: they are not independent. A run that looks healthy after an action or
 * in a changed setup speaks of the change, not of the fault, and is left to the actions and comparisons.
 */
export function runEvidence(
  value: Case,
  seen: SeenRun[],
  model: LikelihoodModel,
  fine: (one: SeenRun, shares: PerCircuit) => { logs: number[]; byTwin: boolean },
): EvidenceItem[] {
  const used = seen.filter((one) => !isHealthy(one) || (one.run.after === null && !curesAnother(one, seen)));
  const weights = weigh(used);
  return used.flatMap((one, k) => {
    const likelihood = model.run(one.patterns, factsOf(value, one));
    const repeats = used.filter((other) => setupKey(other) === setupKey(one)).length;
    const weight = policy.runWeight * weights[k];
    const told = fine(one, likelihood);
    const item: EvidenceItem = {
      ...evidence(`run:${one.run.id}`, sayRun(one, repeats), likelihood, weight),
      fine: told.logs.map((x) => weight * x),
    };
    // The twin has weighed the levels and the delays already.
    return [item, ...detailEvidence(value, one, model, weights[k], told.byTwin)];
  });
}

/** A healthy run in a changed setup beside a failing one of the same feed: the comparison says what it means. */
function curesAnother(healthy: SeenRun, seen: SeenRun[]): boolean {
  const { run } = healthy;
  return seen.some(
    (other) =>
      other.run.feed === run.feed &&
      other.run.quantity === run.quantity &&
      !isHealthy(other) &&
      setupKey({ ...other, shape: healthy.shape }) !== setupKey(healthy),
  );
}

function weigh(seen: SeenRun[]): number[] {
  const bySetup = tally(seen, setupKey, () => 1);
  const shares = seen.map((one) => 1 / (bySetup.get(setupKey(one)) ?? 1));
  const alike = (one: SeenRun): string => JSON.stringify([one.run.feed, one.run.quantity, topPattern(one.patterns)]);
  const byPattern = tally(seen, alike, (_, k) => shares[k]);
  return seen.map((one, k) => {
    const sum = byPattern.get(alike(one)) ?? 1;
    return shares[k] * (sum <= 1 ? 1 : Math.min(policy.mostAlike, 1 + policy.nextAlike * (sum - 1)) / sum);
  });
}

function tally(
  seen: SeenRun[],
  key: (one: SeenRun) => string,
  amount: (one: SeenRun, k: number) => number,
): Map<string, number> {
  const sums = new Map<string, number>();
  seen.forEach((one, k) => sums.set(key(one), (sums.get(key(one)) ?? 0) + amount(one, k)));
  return sums;
}

function sayRun(seen: SeenRun, repeats: number): string {
  const [top] = seen.patterns;
  const shared = repeats > 1 ? `, one of ${repeats} runs in this setup` : '';
  return `run ${seen.run.id}: ${lowerFirst(patternNames[top.id])} (${top.id}, ${formatPercent(top.p)}${shared})`;
}

export function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

/** What the level and the instant say beyond the pattern. */
function detailEvidence(
  value: Case,
  seen: SeenRun,
  model: LikelihoodModel,
  share: number,
  byTwin: boolean,
): EvidenceItem[] {
  const items: EvidenceItem[] = [];
  const f = seen.shape.features;
  const top = topPattern(seen.patterns);
  const weight = policy.comparisonWeight * share;
  const add = (sentence: string, likelihood: PerCircuit): void => {
    items.push(evidence(`detail:${seen.run.id}`, `run ${seen.run.id}: ${sentence}`, likelihood, weight));
  };
  if (top === 'draw-before-prompt' && !byTwin) {
    const level = (f.before ?? f.whole).levelW ?? 0;
    const share = level / contextFor(value, seen.run).expectation.startPeakW;
    const amps = formatCurrent((f.before ?? f.whole).levelA, f.resolutionA);
    if (share < comparisons.leakUpToShare)
      add(`${amps} before the press is the size of a leak`, model.comparison('level-leak'));
    if (share > comparisons.shortFromShare)
      add(`${amps} before the press is the size of a short`, model.comparison('level-short'));
  }
  const cycles = f.voltage.cycles;
  if (top === 'hiccup' && cycles && seen.run.feed !== 'usb-c' && cycles.lowA < 0.6 * cycles.highA) {
    add('the voltage of the feed itself pulses', model.comparison('feed-pulses'));
  }
  const timed = f.intervalS <= 0.12 && f.prompted && !f.promptInferred;
  const rise = top === 'surge-on-prompt' ? (f.after?.peakAfterS ?? null) : (f.after?.lastStepAfterS ?? null);
  if (!byTwin && timed && rise !== null && (top === 'surge-on-prompt' || top === 'stall-low')) {
    const event = top === 'surge-on-prompt' ? 'the surge comes' : 'the last rise comes';
    add(`${event} ${formatSeconds(rise)} after the press`, model.delay(rise, figuresOf(value.device).family));
  }
  return items;
}

/** What a run was made with, in a few words, for sentences. */
export function sayRunSetup(run: Run): string {
  const { setup } = run;
  const words: string[] = [];
  if (setup.port !== null) words.push(`port ${setup.port}`);
  if (setup.flipped) words.push('flipped');
  if (setup.setV !== null) words.push(formatVoltage(setup.setV));
  return words.length > 0 ? words.join(', ') : run.feed;
}
