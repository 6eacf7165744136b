import {
  checkIds,
  checkTypes,
  circuitIds,
  circuitNames,
  depthWords,
  riskOf,
  riskWords,
  type ActionKind,
  type Case,
  type CheckId,
  type CircuitId,
} from '../case/index.ts';
import type { PatternId } from '../shape/index.ts';
import actionTable from './data/actions.json';
import policy from './data/policy.json';
import { figuresOf } from './expectation.ts';
import type { Hypothesis } from './hypotheses.ts';
import { indexOf, type PerCircuit } from './model.ts';
import { depthReached, openingMinutes } from './opening.ts';
import { outlookOf, type OpenTest, type Outlook } from './outlook.ts';
import { entropyBits, normalise } from './posterior.ts';
import { lowerFirst } from './runs.ts';
import { stopAdvice, usualShop, type ShopPolicy, type StopAdvice } from './stop.ts';

/** What a suspect predicts for a test: the likeliest outcome, and the likeliest two with their probabilities. */
export interface Prediction {
  circuit: CircuitId;
  outcome: string;
  likely: { outcome: string; p: number }[];
}

/** What to do next, and what each leading suspect predicts for it. */
export interface Suggestion {
  kind: 'check' | 'action' | 'stop';
  check: CheckId | null;
  action: { kind: ActionKind; circuit: CircuitId } | null;
  /** Expected information about the circuit, bits. */
  bits: number;
  minutes: number;
  depth: number;
  /** What can go wrong in doing it, in a few words. */
  risk: string;
  why: string;
  predicts: Prediction[];
}

interface Candidate extends Suggestion {
  /** Bits a minute, the way there included. */
  worth: number;
}

/** Everything that is believed when the next test is chosen. */
export interface Belief {
  /** By hypothesis; sums to 1. */
  posterior: readonly number[];
  hypotheses: readonly Hypothesis[];
  circuits: PerCircuit;
  /** Probability of every outcome of a check by hypothesis. */
  outcomes: (check: CheckId) => Record<string, number[]> | null;
}

/**
 * Expected reduction of the entropy of the circuit by asking for one of the outcomes, in bits. Which element of a
 * circuit it is does not count: the decision is about the circuit.
 *
 * @param posterior by hypothesis
 * @param outcomes probability of each outcome by hypothesis
 * @param index circuit of every hypothesis; the hypotheses are the circuits where left out
 */
export function expectedBits(
  posterior: readonly number[],
  outcomes: Record<string, number[]>,
  index: readonly number[] = [...posterior.keys()],
): number {
  const size = index.reduce((most, k) => Math.max(most, k), 0) + 1;
  const inCircuits = (weights: readonly number[]): number[] => {
    const sums = new Array<number>(size).fill(0);
    weights.forEach((w, h) => (sums[index[h]] += w));
    return sums;
  };
  let expected = 0;
  for (const likelihood of Object.values(outcomes)) {
    const joint = inCircuits(posterior.map((p, h) => p * likelihood[h]));
    const total = joint.reduce((sum, x) => sum + x, 0);
    if (total > 1e-9) expected += total * entropyBits(normalise(joint));
  }
  return Math.max(0, entropyBits(inCircuits(posterior)) - expected);
}

/** What to do next, best first, and how long it will take to decide. */
export interface Plan {
  next: Suggestion[];
  outlook: Outlook;
}

/**
 * Ranks what can still be done by expected information a minute. Nothing that cannot be undone is proposed while a
 * reversible test of similar worth is open; a circuit that the shop does not repair, or one that is sure enough, brings
 * the advice to stop.
 */
export function planNext(value: Case, belief: Belief, patterns: PatternId[], shop: ShopPolicy = usualShop): Plan {
  const { circuits: posterior } = belief;
  const reached = depthReached(value);
  const leaders = circuitIds
    .map((id, k) => ({ id, p: posterior[k] }))
    .filter((c) => c.id !== 'unmodelled')
    .sort((a, b) => b.p - a.p)
    .slice(0, 3);
  const candidates = [
    ...checkCandidates(value, belief, leaders, reached, patterns),
    ...actionCandidates(value, posterior, leaders, reached),
  ];
  const worthwhile = candidates.filter((c) => c.bits >= policy.leastBits).sort((a, b) => b.worth - a.worth);
  const bestReversible = Math.max(0, ...worthwhile.filter((c) => c.depth < policy.irreversibleFrom).map((c) => c.bits));
  const open = worthwhile.filter(
    (c) => c.depth < policy.irreversibleFrom || bestReversible < policy.similarWorth * c.bits,
  );
  const list: Suggestion[] = shortList(open).map(({ worth: _worth, ...suggestion }) => suggestion);
  const outlook = outlookOf(
    belief.posterior,
    belief.hypotheses.map((h) => h.index),
    openTests(belief, candidates),
    reached,
  );
  const advice = stopAdvice(value, posterior, outlook, shop);
  if (!advice) return { next: list, outlook };
  const { first, ...stop } = stopSuggestion(advice);
  return { next: first ? [stop, ...list] : [...list, stop], outlook };
}

/** The best by bits a minute, and the one that tells most even where it takes long. */
function shortList(open: Candidate[]): Candidate[] {
  const list = open.slice(0, policy.mostSuggestions);
  const telling = open.reduce<Candidate | null>((best, c) => (best === null || c.bits > best.bits ? c : best), null);
  if (telling && !list.includes(telling)) list[list.length - 1] = telling;
  return list;
}

/** Checks that can be made without anything that cannot be undone. */
function openTests(belief: Belief, candidates: Candidate[]): OpenTest[] {
  return candidates.flatMap(({ check, minutes, depth }) => {
    const outcomes = check === null || depth >= policy.irreversibleFrom ? null : belief.outcomes(check);
    return check === null || outcomes === null ? [] : [{ check, minutes, depth, outcomes: Object.values(outcomes) }];
  });
}

type Leaders = { id: CircuitId; p: number }[];

function checkCandidates(
  value: Case,
  belief: Belief,
  leaders: Leaders,
  reached: number,
  patterns: PatternId[],
): Candidate[] {
  const index = belief.hypotheses.map((h) => h.index);
  const asked = new Set(value.checks.filter((c) => c.outcome !== null).map((c) => c.id));
  const out: Candidate[] = [];
  for (const check of checkIds) {
    if (asked.has(check) || !applies(check, value, patterns)) continue;
    const fine = belief.outcomes(check);
    if (!fine) continue;
    const outcomes = byCircuit(belief, fine);
    const type = checkTypes[check];
    const bits = expectedBits(belief.posterior, fine, index);
    const minutes = type.minutes + openingMinutes(reached, type.depth);
    out.push({
      kind: 'check',
      check,
      action: null,
      bits: round(bits),
      minutes: type.minutes,
      depth: type.depth,
      risk: riskOf(check, type.depth),
      why: `${splitWords(leaders, outcomes)}; ${depthWords[type.depth]}.`,
      predicts: leaders.map((l) => predictionOf(outcomes, l.id)),
      worth: bits / minutes,
    });
  }
  return out;
}

/** Probability of every outcome by circuit, its elements weighed as they stand. */
function byCircuit(belief: Belief, fine: Record<string, number[]>): Record<string, PerCircuit> {
  const weight = circuitIds.map(() => 0);
  belief.hypotheses.forEach((h, k) => (weight[h.index] += belief.posterior[k]));
  return Object.fromEntries(
    Object.entries(fine).map(([outcome, likelihood]) => {
      const sums = circuitIds.map(() => 0);
      belief.hypotheses.forEach((h, k) => (sums[h.index] += belief.posterior[k] * likelihood[k]));
      return [outcome, sums.map((x, c) => x / Math.max(weight[c], 1e-12))];
    }),
  );
}

/** Says which suspects the outcome tells apart. */
function splitWords(leaders: Leaders, outcomes: Record<string, PerCircuit>): string {
  const [first, second] = leaders;
  const words = leaders.map((l) => likeliest(outcomes, l.id));
  const name = (id: CircuitId): string => lowerFirst(circuitNames[id]);
  const other = leaders.find((_, k) => k > 0 && words[k] !== words[0]);
  if (other) return `Tells ${name(first.id)} from ${name(other.id)}`;
  return second ? `Confirms or weakens ${name(first.id)}` : 'Narrows the suspects';
}

function predictionOf(outcomes: Record<string, PerCircuit>, circuit: CircuitId): Prediction {
  const k = indexOf.get(circuit) ?? 0;
  const ranked = Object.entries(outcomes)
    .map(([outcome, p]) => ({ outcome, p: Math.round(1000 * p[k]) / 1000 }))
    .sort((a, b) => b.p - a.p);
  return { circuit, outcome: ranked[0]?.outcome ?? '', likely: ranked.slice(0, 2) };
}

function likeliest(outcomes: Record<string, PerCircuit>, circuit: CircuitId): string {
  return predictionOf(outcomes, circuit).outcome;
}

function actionCandidates(value: Case, posterior: PerCircuit, leaders: Leaders, reached: number): Candidate[] {
  const tried = new Set(value.actions.map((a) => `${a.kind} ${a.circuit}`));
  const out: Candidate[] = [];
  for (const entry of actionTable) {
    const circuit = entry.circuit as CircuitId;
    const kind = entry.kind as ActionKind;
    if (tried.has(`${kind} ${circuit}`) || (circuit === 'battery.pack' && !figuresOf(value.device).battery)) continue;
    const k = indexOf.get(circuit) ?? 0;
    if (posterior[k] < 0.04) continue;
    // The data first: what rewrites or takes off what holds it waits until it is safe.
    if (value.intake.dataWanted && policy.losesData.includes(circuit)) continue;
    const recovers = posterior.map((_, j) => (j === k ? entry.ifRight : entry.ifNot));
    const outcomes = { recovers, same: recovers.map((p) => 1 - p) };
    const bits = expectedBits(posterior, outcomes);
    out.push({
      kind: 'action',
      check: null,
      action: { kind, circuit },
      bits: round(bits),
      minutes: entry.minutes,
      depth: entry.depth,
      risk: riskWords[entry.depth],
      why: `${entry.name}: a test and, if it is that, the cure; ${depthWords[entry.depth]}. Record a run before and a run after.`,
      predicts: leaders.map((l) => predictionOf(outcomes, l.id)),
      worth: bits / (entry.minutes + openingMinutes(reached, entry.depth)),
    });
  }
  return out;
}

/** Patterns in which the device did answer a press: its button and wake line work. */
const answersThePress: PatternId[] = [
  'surge-on-prompt',
  'stall-low',
  'stall-mid',
  'restart-loop',
  'start-then-off',
  'normal-start',
];

/** Leaves out what the device cannot answer or the runs have already shown. */
function applies(check: CheckId, value: Case, patterns: PatternId[]): boolean {
  const figures = figuresOf(value.device);
  const runs = value.runs;
  const usb = runs.filter((r) => r.feed === 'usb-c');
  const seenPorts = new Set(usb.map((r) => r.setup.port ?? 1));
  switch (check) {
    case 'other-port':
      return figures.ports !== 1 && seenPorts.size < 2;
    case 'flipped-plug':
      return !usb.some((r) => r.setup.flipped);
    case 'firmware-reload':
      return !value.intake.dataWanted;
    case 'fan':
      return figures.fan;
    case 'battery-disconnected':
      return (
        figures.battery &&
        figures.startsWithoutBattery &&
        !runs.some((r) => r.setup.battery === 'disconnected' && r.feed !== 'battery')
      );
    case 'usb-wakes':
      return figures.battery && !patterns.some((p) => answersThePress.includes(p));
    case 'charges':
      return figures.battery && !patterns.some((p) => p.startsWith('charge-'));
    case 'press-response':
      return !runs.some((r) => r.markers.some((m) => m.event === 'prompt'));
    case 'known-good-display':
      return !runs.some((r) => r.setup.display === 'known-good');
    case 'halves-apart':
      return !runs.some((r) => r.setup.assembly === 'half');
    case 'known-good-charger':
      return !runs.some((r) => r.setup.charger === 'known-good');
    case 'rail-voltages':
      return !value.readings.some((r) => r.mode === 'voltage');
    case 'diode-readings':
      return !value.readings.some((r) => r.mode === 'diode');
    case 'main-rail-resistance':
      return !value.readings.some((r) => r.mode === 'resistance' && r.circuit === 'rail.main');
    default:
      return true;
  }
}

function stopSuggestion({ why, first }: StopAdvice): Suggestion & { first: boolean } {
  return {
    kind: 'stop',
    check: null,
    action: null,
    bits: 0,
    minutes: 0,
    depth: 0,
    risk: riskWords[0],
    why,
    predicts: [],
    first,
  };
}

function round(bits: number): number {
  return Math.round(bits * 1000) / 1000;
}
