import { circuitIds } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import { normaliseWeights, type PerCircuit, type PerHypothesis } from '../inference/index.ts';
import type { Reason } from '../reasons/index.ts';
import priors from './priors.json';
import type { Hypothesis } from './space.ts';
import { remarksOf } from './vocabulary.ts';

type Factors = Partial<Record<string, number>>;

/** A reason for what is believed before anything was measured: natural log of its factor by circuit. */
interface PriorReason {
  source: string;
  reason: Reason;
  logs: PerCircuit;
}

/**
 * Base rates of circuits for a class of device, or over all of them. Sums to 1.
 *
 * @param deviceClass null over all of them
 * @returns by circuit, in the order of `circuitIds`
 */
export function baseRates(deviceClass: string | null = null): PerCircuit {
  const factors = (priors.class as Record<string, Factors>)[deviceClass ?? 'other'] ?? {};
  return normaliseWeights(
    circuitIds
      .map((id) => (priors.base as Factors)[id] ?? priors.unlisted)
      .map((p, k) => p * (factors[circuitIds[k]] ?? 1)),
  );
}

/**
 * What is likely before anything was measured: base rates by class, and beside them what the intake and the complaint
 * say, each as a reason of its own.
 */
export function priorOf(value: Case): { base: PerCircuit; reasons: PriorReason[] } {
  const base = baseRates(value.device.class);
  const reasons: PriorReason[] = [];
  const say = (source: string, reason: Reason, factors: Factors): void => {
    reasons.push({ source, reason, logs: circuitIds.map((id) => Math.log(factors[id] ?? 1)) });
  };
  const { intake } = value;
  if (intake.liquid) say('intake', { id: 'liquid', values: {} }, priors.intake.liquid);
  if (intake.dropped) say('intake', { id: 'dropped', values: {} }, priors.intake.dropped);
  if (intake.priorRepair) say('intake', { id: 'repaired-before', values: {} }, priors.intake.priorRepair);
  if (intake.batterySwollen) say('intake', { id: 'swollen', values: {} }, priors.intake.batterySwollen);
  const kind = value.complaintKind;
  if (kind && kind !== 'other') say('complaint', { id: 'complaint', values: { kind } }, priors.complaint[kind]);
  for (const { id, factors } of remarksOf(value)) say('remark', { id: 'remark', values: { remark: id } }, factors);
  return { base, reasons };
}

/**
 * The prior of every hypothesis: the circuit's, shared out among its elements. Sums to 1.
 *
 * @param prior by circuit, sums to 1
 * @param hypotheses whose weights share out their circuit
 */
export function priorOfHypotheses(prior: PerCircuit, hypotheses: readonly Hypothesis[]): PerHypothesis {
  return normaliseWeights(hypotheses.map((h) => Math.max(prior[h.index] * h.share, priors.least)));
}
