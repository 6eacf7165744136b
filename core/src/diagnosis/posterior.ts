import { circuitIds, type Case, type CircuitId } from '../case/index.ts';
import policy from './data/policy.json';
import priors from './data/priors.json';
import settings from './data/hypotheses.json';
import type { Hypothesis } from './hypotheses.ts';
import { perCircuit, type EvidenceItem, type PerCircuit } from './model.ts';

/** A sentence for or against a circuit; `for` in decibans (10 log10 of the likelihood ratio against the rest). */
export interface WeighedEvidence {
  item: string;
  for: number;
}

export interface CircuitProbability {
  id: CircuitId;
  p: number;
  /** The element inside the circuit, where a profile names one. */
  target: string | null;
  /** Elements by probability, at most five; empty without a profile of the model. */
  targets: Target[];
  evidence: WeighedEvidence[];
}

/** An element of the profile with its own probability. */
export interface Target {
  id: string;
  name: string;
  p: number;
}

type Factors = Partial<Record<string, number>>;

function times(vector: PerCircuit, factors: Factors): PerCircuit {
  return circuitIds.map((id, k) => vector[k] * (factors[id] ?? 1));
}

/** What is likely before anything was measured: base rates by class, with what the intake says. Sums to 1. */
export function priorOf(value: Case): { prior: PerCircuit; items: EvidenceItem[] } {
  const base = times(
    perCircuit(priors.base, 0.01),
    (priors.class as Record<string, Factors>)[value.device.class] ?? {},
  );
  const items: EvidenceItem[] = [];
  const say = (sentence: string, factors: Factors): void => {
    items.push({ source: 'intake', sentence, logLikelihood: circuitIds.map((id) => Math.log(factors[id] ?? 1)) });
  };
  const { intake } = value;
  if (intake.liquid) say('intake: liquid got in', priors.intake.liquid);
  if (intake.dropped) say('intake: it was dropped', priors.intake.dropped);
  if (intake.priorRepair) say('intake: it was repaired before', priors.intake.priorRepair);
  if (intake.batterySwollen) say('intake: the battery is swollen', priors.intake.batterySwollen);
  if (value.complaintKind && value.complaintKind !== 'other') {
    say(
      `complaint: ${value.complaintKind.replace('-', ' ')} (a hypothesis, not yet verified)`,
      priors.complaint[value.complaintKind],
    );
  }
  return { prior: normalise(base), items };
}

/** Scales to a sum of 1, with no entry at exactly nothing. */
export function normalise(vector: PerCircuit): PerCircuit {
  const held = vector.map((x) => Math.max(Number.isFinite(x) ? x : 0, 1e-12));
  const sum = held.reduce((total, x) => total + x, 0);
  return held.map((x) => x / sum);
}

/** The prior of every hypothesis: the circuit's, shared out among its elements. */
export function priorOfHypotheses(prior: PerCircuit, hypotheses: readonly Hypothesis[]): number[] {
  return hypotheses.map((h) => Math.max(prior[h.index] * h.share, settings.leastPrior));
}

const weightFor = (item: EvidenceItem, h: Hypothesis, k: number): number =>
  item.fine?.[k] ?? item.logLikelihood[h.index];

/** Bayes over the hypotheses: prior times the likelihoods of all items. Sums to 1. */
export function posteriorOf(
  prior: readonly number[],
  hypotheses: readonly Hypothesis[],
  items: EvidenceItem[],
): number[] {
  const log = hypotheses.map(
    (h, k) => Math.log(prior[k]) + items.reduce((sum, item) => sum + weightFor(item, h, k), 0),
  );
  const highest = log.reduce((most, x) => Math.max(most, x), -Infinity);
  const raw = log.map((x) => Math.exp(x - highest));
  const sum = raw.reduce((total, x) => total + x, 0);
  return raw.map((x) => x / sum);
}

/** Sums the hypotheses of every circuit; no circuit falls to nothing. Sums to 1. */
export function toCircuits(posterior: readonly number[], hypotheses: readonly Hypothesis[]): PerCircuit {
  const out = circuitIds.map(() => 0);
  hypotheses.forEach((h, k) => (out[h.index] += posterior[k]));
  return normalise(out.map((x) => Math.max(x, policy.leastProbability / 10)));
}

/** Circuits by probability, each with its reasons: the weight of an item against the other circuits as they stand. */
export function explain(
  posterior: readonly number[],
  hypotheses: readonly Hypothesis[],
  items: EvidenceItem[],
  namesTargets: boolean,
): CircuitProbability[] {
  const circuits = toCircuits(posterior, hypotheses);
  const weights = items.map((item) => weightsOf(item, posterior, hypotheses));
  return circuitIds
    .map((id, k) => {
      const targets = namesTargets ? targetsOf(k, posterior, hypotheses) : [];
      return {
        id,
        p: circuits[k],
        target: targets[0]?.name ?? null,
        targets,
        evidence: items
          .map((item, j) => ({ item: item.sentence, for: weights[j][k] }))
          .filter((e) => Math.abs(e.for) >= 0.05)
          .sort((a, b) => Math.abs(b.for) - Math.abs(a.for)),
      };
    })
    .sort((a, b) => b.p - a.p);
}

/** Elements of a circuit by probability, all their faults together. */
function targetsOf(circuit: number, posterior: readonly number[], hypotheses: readonly Hypothesis[]): Target[] {
  const byName = new Map<string, Target>();
  hypotheses.forEach((h, k) => {
    if (h.index !== circuit || h.target === null || h.fault === null) return;
    const known = byName.get(h.target);
    if (known) known.p += posterior[k];
    else byName.set(h.target, { id: h.fault.at, name: h.target, p: posterior[k] });
  });
  return [...byName.values()].sort((a, b) => b.p - a.p).slice(0, 5);
}

/** 10 log10 of P(item | circuit) over P(item | any other) for every circuit, the others weighed without this item. */
function weightsOf(item: EvidenceItem, posterior: readonly number[], hypotheses: readonly Hypothesis[]): number[] {
  const highest = hypotheses.reduce((most, h, k) => Math.max(most, weightFor(item, h, k)), -Infinity);
  const sum = circuitIds.map(() => 0);
  const without = circuitIds.map(() => 0);
  hypotheses.forEach((h, k) => {
    const p = Math.max(posterior[k], 1e-12);
    sum[h.index] += p;
    without[h.index] += p / Math.exp(Math.max(weightFor(item, h, k) - highest, -25));
  });
  const allSum = sum.reduce((a, b) => a + b, 0);
  const allWithout = without.reduce((a, b) => a + b, 0);
  return circuitIds.map((_, c) => {
    const own = sum[c] / Math.max(without[c], 1e-300);
    const rest = (allSum - sum[c]) / Math.max(allWithout - without[c], 1e-300);
    return Math.round(100 * Math.log10(Math.max(own, 1e-12) / Math.max(rest, 1e-12))) / 10;
  });
}

/** Entropy in bits. */
export function entropyBits(p: PerCircuit): number {
  return -p.reduce((sum, x) => (x > 0 ? sum + x * Math.log2(x) : sum), 0);
}
