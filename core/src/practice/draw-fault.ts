import { namedChecks } from '../catalogue/index.ts';
import type { CircuitId, ComplaintKind, FaultKind } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';
import { hypothesesOf, priorOf, type Hypothesis } from '../hypotheses/index.ts';
import { predictOutcome, type Trial } from '../prediction/index.ts';
import { gaussianNoise, type Random } from '../trace/index.ts';
import type { Fault, Profile } from '../twin/index.ts';
import settings from './draw-fault.json';

/** Element and kind of a fault, whatever its severity. */
export const spotOf = ({ fault }: Hypothesis): string => `${fault?.at ?? ''} ${fault?.kind ?? ''}`;

/** By base rate of the circuit, then by element; the severity lies between the steps of the engine's own grid. */
export function drawFault(
  value: Case,
  profile: Profile,
  random: Random,
  spots?: ReadonlyMap<string, number>,
): Hypothesis & { fault: Fault } {
  const hypotheses = hypothesesOf(profile).filter((h): h is Hypothesis & { fault: Fault } => h.fault !== null);
  const { base, reasons } = priorOf(value);
  const weights = hypotheses.map(
    (h) =>
      base[h.index] *
      h.share *
      (spots?.get(spotOf(h)) ?? 1) *
      Math.exp(reasons.reduce((sum, r) => sum + r.logs[h.index], 0)),
  );
  let left = random() * weights.reduce((a, b) => a + b, 0);
  const k = Math.max(
    0,
    weights.findIndex((w) => (left -= w) <= 0),
  );
  const h = hypotheses[k];
  const { spreads, spread, minValue, maxWeak } = settings;
  const wide = (spreads as Partial<Record<FaultKind, number>>)[h.fault.kind] ?? spread;
  const { value: usual, kind } = h.fault;
  const jittered = usual === null ? null : Math.max(minValue, usual * Math.exp(wide * gaussianNoise(random)));
  const capped = kind === 'weak' && jittered !== null ? Math.min(maxWeak, jittered) : jittered;
  return { ...h, fault: { ...h.fault, value: capped } };
}

/** What the customer would say, by what the unit does; now and then nothing, or something that is not so. */
export function complaintOf(trial: Trial, circuit: CircuitId, random: Random): ComplaintKind | null {
  const { saysNothing, ofNothing, noPicture } = settings.complaints;
  const dice = random();
  if (dice < saysNothing) return null;
  if (circuit === 'none')
    return (Object.entries(ofNothing) as [ComplaintKind, number][]).find(([, until]) => dice < until)?.[0] ?? 'other';
  if (circuit === 'display') return dice < noPicture ? 'no-picture' : 'no-start';
  const image = predictOutcome(trial, namedChecks.screen);
  const charges = predictOutcome(trial, 'charges');
  if (image === 'logo-loop') return 'restarts';
  if (image !== 'image') return 'no-start';
  if (charges === 'no') return 'no-charge';
  return charges === 'slow' ? 'slow-charge' : 'drain';
}
