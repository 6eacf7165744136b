import { circuitIds, type Case, type CircuitId } from '../case/index.ts';
import policy from './data/policy.json';
import priors from './data/priors.json';
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
  evidence: WeighedEvidence[];
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

/** Bayes: prior times the likelihoods of all items. Sums to 1. */
export function posteriorOf(prior: PerCircuit, items: EvidenceItem[]): PerCircuit {
  const log = prior.map((p, k) => Math.log(p) + items.reduce((sum, item) => sum + item.logLikelihood[k], 0));
  const highest = Math.max(...log);
  return normalise(log.map((x) => Math.max(Math.exp(x - highest), policy.leastProbability / 10)));
}

/** Circuits by probability, each with its reasons: the weight of an item against the other circuits as they stand. */
export function explain(posterior: PerCircuit, items: EvidenceItem[]): CircuitProbability[] {
  return circuitIds
    .map((id, k) => ({
      id,
      p: posterior[k],
      target: null,
      evidence: items
        .map((item) => ({ item: item.sentence, for: weightOf(item, k, posterior) }))
        .filter((e) => Math.abs(e.for) >= 0.05)
        .sort((a, b) => Math.abs(b.for) - Math.abs(a.for)),
    }))
    .sort((a, b) => b.p - a.p);
}

/** 10 log10 of P(item | circuit) over P(item | any other), the others weighed without this item. */
function weightOf(item: EvidenceItem, circuit: number, posterior: PerCircuit): number {
  let rest = 0;
  let sum = 0;
  posterior.forEach((p, k) => {
    if (k === circuit) return;
    const without = p / Math.exp(item.logLikelihood[k]);
    rest += without * Math.exp(item.logLikelihood[k]);
    sum += without;
  });
  const ratio = Math.exp(item.logLikelihood[circuit]) / Math.max(rest / sum, 1e-12);
  return Math.round(100 * Math.log10(ratio)) / 10;
}

/** Entropy in bits. */
export function entropyBits(p: PerCircuit): number {
  return -p.reduce((sum, x) => (x > 0 ? sum + x * Math.log2(x) : sum), 0);
}
