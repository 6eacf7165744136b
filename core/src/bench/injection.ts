import { formatCurrent, formatPower, formatVoltage } from '../quantity/index.ts';
import policy from './injection.json';

/** What is known of the rail that a voltage is to be put on. Volts, ohms. */
export interface InjectionOf {
  /** Null where nobody knows: then the unknown rail's bound holds. */
  nominalV: number | null;
  /** A core rail, or one that a processor hangs on directly. */
  feedsProcessor: boolean;
  /** A core regulator takes its input from here and its phases are not isolated: what is put here can stand at the processor. */
  coreBehind: boolean;
  /** The main system rail or the battery net: large, and used to amperes. */
  isMain: boolean;
  /** Resistance to ground as measured, the leads of the meter taken off. */
  ohm: number;
  /** Leads and contacts of the supply. */
  leadsOhm: number;
  /** Paralleled capacitors; null where nobody knows. */
  capacitors: number | null;
  school: 'step' | 'rated';
  /** What the supply can, or may by the bench's rules. */
  maxV: number;
  maxA: number;
}

/** How well the warmth of the defect can be seen. */
type Visibility = 'no' | 'camera' | 'alcohol';

/** One setting of the supply with what it is expected to do. Volts, amperes, watts. */
export interface InjectionStep {
  setV: number;
  limitA: number;
  /** What should flow, and what should stand at the terminals then. */
  amps: number;
  terminalV: number;
  limiting: boolean;
  defectW: number;
  leadsW: number;
  visible: Visibility;
}

export interface InjectionPlan {
  /** Never to be exceeded on this rail, with the reason in words. */
  maxV: number;
  maxA: number;
  why: string;
  steps: InjectionStep[];
  /** First step whose warmth can be seen; null where none can. */
  seenFrom: number | null;
  cautions: string[];
  capacitor: CapacitorAdvice;
}

/** What to do with a capacitor that turns out to be shorted. */
interface CapacitorAdvice {
  does: 'leave-off' | 'replace';
  why: string;
}

/**
 * Where a supply in front of leads and a short comes to rest: voltage or current held, whichever bounds first.
 *
 * @param setV volts set at the supply
 * @param limitA its current limit, A
 * @param ohm of the short
 * @param leadsOhm of both leads together
 * @returns amperes, volts at the rail, and where the watts go
 * @example operatingPoint(1, 2, 0.4, 0.1).defectW // 1.6
 */
export function operatingPoint(
  setV: number,
  limitA: number,
  ohm: number,
  leadsOhm: number,
): Pick<InjectionStep, 'amps' | 'terminalV' | 'limiting' | 'defectW' | 'leadsW'> {
  const total = ohm + leadsOhm;
  const free = total > 0 ? setV / total : Infinity;
  const limiting = free > limitA;
  const amps = limiting ? limitA : free;
  return { amps, terminalV: amps * total, limiting, defectW: amps * amps * ohm, leadsW: amps * amps * leadsOhm };
}

function visibility(watts: number): Visibility {
  if (watts >= policy.visibleW.alcohol) return 'alcohol';
  return watts >= policy.visibleW.camera ? 'camera' : 'no';
}

/** The bound of the voltage, with its reason. */
function ceilingOf(of: InjectionOf): { volts: number; why: string } {
  const bounds: { volts: number; why: string }[] = [
    of.nominalV === null
      ? { volts: policy.unknownMostV, why: 'nobody knows what this rail is made for: a volt at most' }
      : { volts: of.nominalV, why: `the rail is made for ${formatVoltage(of.nominalV)}` },
    ...(of.feedsProcessor
      ? [{ volts: policy.coreMostV, why: `a processor hangs on it: ${formatVoltage(policy.coreMostV)} at most` }]
      : []),
    ...(of.coreBehind
      ? [
          {
            volts: policy.coreBehindMostV,
            why: `a core regulator hangs on it: a shorted transistor hands this to the processor, so ${formatVoltage(policy.coreBehindStartV)}, creeping to ${formatVoltage(policy.coreBehindMostV)} at most, until its coils are lifted`,
          },
        ]
      : []),
    { volts: of.maxV, why: 'the supply gives no more' },
  ];
  return bounds.reduce((least, b) => (b.volts < least.volts ? b : least));
}

function limitsOf(of: InjectionOf): number[] {
  const [first, last] = of.isMain ? policy.limitA.main : policy.limitA.small;
  const most = Math.min(last, of.maxA);
  const limits = [first, 2 * first, last].map((a) => Math.min(a, most));
  return [...new Set(limits)];
}

/**
 * Plans how to put a voltage on a shorted rail so that the defect warms and nothing else is hurt: the limit is set first,
 * never more than the rail is made for, and up in steps only while nothing warms. In every step the current follows from
 * Ohm's law with the leads in series, and the heat from `P = I^2 R` in the defect and in the leads.
 *
 * @throws {RangeError} for resistances or bounds that are none
 */
export function planInjection(of: InjectionOf): InjectionPlan {
  if (!(of.ohm >= 0) || !(of.leadsOhm >= 0)) throw new RangeError('resistances are never below zero');
  if (!(of.maxV > 0) || !(of.maxA > 0) || !(of.nominalV === null || of.nominalV > 0))
    throw new RangeError('voltages and limits have to be above zero');
  const { volts: maxV, why } = ceilingOf(of);
  const limits = limitsOf(of);
  const maxA = limits[limits.length - 1];
  const settings =
    of.school === 'rated' && !of.coreBehind
      ? limits.map((limitA) => ({ setV: maxV, limitA }))
      : [
          ...stepVolts(maxV).map((setV) => ({ setV, limitA: limits[0] })),
          ...limits.slice(1).map((limitA) => ({ setV: maxV, limitA })),
        ];
  const steps: InjectionStep[] = [];
  for (const { setV, limitA } of settings) {
    const point = operatingPoint(setV, limitA, of.ohm, of.leadsOhm);
    // A setting that changes nothing about what flows is no step.
    const last = steps[steps.length - 1];
    if (last && point.amps <= last.amps * (1 + policy.minGain)) continue;
    steps.push({ setV, limitA, ...point, visible: visibility(point.defectW) });
  }
  const seen = steps.findIndex((s) => s.visible !== 'no');
  return {
    maxV,
    maxA,
    why,
    steps,
    seenFrom: seen < 0 ? null : seen,
    cautions: cautionsOf(of, steps),
    capacitor: capacitorAdvice(of.capacitors),
  };
}

function stepVolts(maxV: number): number[] {
  const volts = policy.stepShares.map((share) => share * Math.min(maxV, policy.stepFullV));
  if (maxV > policy.stepFullV) volts.push(maxV);
  return volts.map((v) => Math.floor(v * 1000) / 1000);
}

function cautionsOf(of: InjectionOf, steps: InjectionStep[]): string[] {
  const out: string[] = [];
  const last = steps[steps.length - 1];
  if (of.feedsProcessor)
    out.push(
      `A processor hangs on this rail: never above ${formatVoltage(policy.coreMostV)}, and a low reading may be its healthy one. Compare with a good board first.`,
    );
  if (of.coreBehind)
    out.push(
      'A core regulator hangs on this rail: feel the processor while you creep up. If it warms evenly, stop and lift the coils before more.',
    );
  if (last.leadsW > last.defectW)
    out.push(
      `The leads take more than the defect (${formatPower(last.leadsW)} against ${formatPower(last.defectW)}): use shorter, thicker leads or solder a wire on, or they are what warms.`,
    );
  if (last.visible === 'no')
    out.push(
      last.limiting
        ? `Even at the limit of ${formatCurrent(last.limitA)} the defect takes only ${formatPower(last.defectW)}: follow the drop in millivolts along the rail to the lowest point instead.`
        : `At ${formatVoltage(last.setV)} the defect takes only ${formatPower(last.defectW)}, too little to be seen: a leak rather than a short. Freeze the board and watch what thaws first, or take parts off one by one.`,
    );
  if (of.nominalV === null)
    out.push('Nobody knows what this rail is made for: find out before more than a volt is put on it.');
  return out;
}

/**
 * Whether a shorted capacitor may simply come off: one of many in parallel is not missed, a lone one is.
 *
 * @param count paralleled capacitors on the rail; null where nobody knows
 */
export function capacitorAdvice(count: number | null): CapacitorAdvice {
  if (count === null)
    return { does: 'replace', why: 'nobody knows how many stand in parallel: put one of the same kind back' };
  if (count >= policy.bankFrom)
    return {
      does: 'leave-off',
      why: `one of ${count} in parallel: the others carry the rail. Not so where it belongs to a clock or sets a time`,
    };
  return {
    does: 'replace',
    why: count <= 1 ? 'it stands alone: the rail needs it' : `one of only ${count}: the rail would miss it`,
  };
}

/** How what flows agrees with what was planned. */
interface InjectionCheck {
  verdict: 'as-planned' | 'more' | 'less' | 'nothing';
  /** Ohms of the defect as it looks now; null where nothing flows. */
  ohm: number | null;
  says: string;
}

/**
 * Holds what the supply shows against the plan's step.
 *
 * @param seen volts at the terminals and amperes
 */
export function checkInjection(
  step: InjectionStep,
  leadsOhm: number,
  seen: { volts: number; amps: number },
): InjectionCheck {
  if (!(seen.amps > policy.nothingA))
    return {
      verdict: 'nothing',
      ohm: null,
      says: 'Nothing flows: the contact is bad, the point is not on the rail, or the short has opened. Measure to ground again.',
    };
  const ohm = Math.max(0, seen.volts / seen.amps - leadsOhm);
  const ratio = seen.amps / step.amps;
  const flows = `${formatCurrent(seen.amps)} flow, ${formatCurrent(step.amps)} were expected`;
  if (ratio > 1 + policy.agreesShare)
    return {
      verdict: 'more',
      ohm,
      says: `${flows}: more than the resistance measured explains. A part that only conducts under voltage hangs there too, or the short grew; do not step up before you know.`,
    };
  if (ratio < 1 / (1 + policy.agreesShare))
    return {
      verdict: 'less',
      ohm,
      says: `${flows}: a contact or thin leads stand in between, or the short is opening. Push the probe in and look again.`,
    };
  return {
    verdict: 'as-planned',
    ohm,
    says: `${flows}: as the resistance says. Look for what warms before stepping up.`,
  };
}

/**
 * Whether a leak would show at a voltage: the current and the watts in it.
 *
 * @param ohm of the leak
 * @param volts across it
 * @throws {RangeError} for a resistance of nothing
 * @example leakAt(6, 0.9) // { amps: 0.15, watts: 0.135, visible: 'no' }
 */
export function leakAt(ohm: number, volts: number): { amps: number; watts: number; visible: Visibility } {
  if (!(ohm > 0)) throw new RangeError('a leak has a resistance above zero');
  const watts = (volts * volts) / ohm;
  return { amps: volts / ohm, watts, visible: visibility(watts) };
}
