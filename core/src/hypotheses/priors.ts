import { circuitIds } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import { normaliseWeights, type PerCircuit, type PerHypothesis } from '../inference/index.ts';
import priors from './priors.json';
import type { Hypothesis } from './space.ts';
import { remarksIn } from './vocabulary.ts';

type Factors = Partial<Record<string, number>>;

/** A reason for what is believed before anything was measured: natural log of its factor by circuit. */
interface PriorReason {
  source: string;
  sentence: string;
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
  const say = (source: string, sentence: string, factors: Factors): void => {
    reasons.push({ source, sentence, logs: circuitIds.map((id) => Math.log(factors[id] ?? 1)) });
  };
  const { intake } = value;
  if (intake.liquid) say('intake', 'intake: liquid damage', priors.intake.liquid);
  if (intake.dropped) say('intake', 'intake: dropped', priors.intake.dropped);
  if (intake.priorRepair) say('intake', 'intake: repaired before', priors.intake.priorRepair);
  if (intake.batterySwollen) say('intake', 'intake: swollen battery', priors.intake.batterySwollen);
  if (value.complaintKind && value.complaintKind !== 'other')
    say(
      'complaint',
      `complaint: ${value.complaintKind.replace('-', ' ')} (not verified yet)`,
      priors.complaint[value.complaintKind],
    );
  for (const remark of remarksIn(value)) say('remark', `the customer said: ${remark.says}`, remark.factors);
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
