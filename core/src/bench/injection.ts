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
      ? { volts: policy.unknownMostV, why: 'the nominal voltage of this rail is not known, so 1 V at most' }
      : { volts: of.nominalV, why: `the rail is rated for ${formatVoltage(of.nominalV)}` },
    ...(of.feedsProcessor
      ? [{ volts: policy.coreMostV, why: `it feeds a processor, so ${formatVoltage(policy.coreMostV)} at most` }]
      : []),
    ...(of.coreBehind
      ? [
          {
            volts: policy.coreBehindMostV,
            why: `it feeds a core regulator, and a shorted transistor would pass this voltage to the processor. Start at ${formatVoltage(policy.coreBehindStartV)} and go no higher than ${formatVoltage(policy.coreBehindMostV)} until its coils are lifted`,
          },
        ]
      : []),
    { volts: of.maxV, why: 'the supply cannot give more' },
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
 * never more than the rail is rated for, and up in steps only while nothing warms. In every step the current follows from
 * Ohm's law with the leads in series, and the heat from `P = I^2 R` in the defect and in the leads.
 *
 * @throws {RangeError} for resistances or bounds that are none
 */
export function planInjection(of: InjectionOf): InjectionPlan {
  if (!(of.ohm >= 0) || !(of.leadsOhm >= 0)) throw new RangeError('resistances cannot be below zero');
  if (!(of.maxV > 0) || !(of.maxA > 0) || !(of.nominalV === null || of.nominalV > 0))
    throw new RangeError('voltages and limits must be above zero');
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
      `This rail feeds a processor: never above ${formatVoltage(policy.coreMostV)}. Its normal reading may be low, so compare with a known-good board first.`,
    );
  if (of.coreBehind)
    out.push(
      'This rail feeds a core regulator. Feel the processor while you raise the voltage. If it warms evenly, stop and lift the coils first.',
    );
  if (last.leadsW > last.defectW)
    out.push(
      `The leads take more power than the fault (${formatPower(last.leadsW)} against ${formatPower(last.defectW)}). Use shorter, thicker leads or solder a wire on, or the leads will be what gets warm.`,
    );
  if (last.visible === 'no')
    out.push(
      last.limiting
        ? `Even at the limit of ${formatCurrent(last.limitA)} the fault takes only ${formatPower(last.defectW)}. Follow the drop in millivolts along the rail to the lowest point instead.`
        : `At ${formatVoltage(last.setV)} the fault takes only ${formatPower(last.defectW)}, too little to see. This is a resistive fault, not a dead short. Freeze the board and watch what thaws first, or remove parts one by one.`,
    );
  if (of.nominalV === null)
    out.push('The nominal voltage of this rail is not known. Find it out before you inject more than 1 V.');
  return out;
}

/**
 * Whether a shorted capacitor may simply come off: one of many in parallel is not missed, a lone one is.
 *
 * @param count paralleled capacitors on the rail; null where nobody knows
 */
export function capacitorAdvice(count: number | null): CapacitorAdvice {
  if (count === null)
    return { does: 'replace', why: 'it is not known how many are in parallel, so fit one of the same value' };
  if (count >= policy.bankFrom)
    return {
      does: 'leave-off',
      why: `one of ${count} in parallel, so the rail works without it. This does not apply to clock and timing capacitors`,
    };
  return {
    does: 'replace',
    why: count <= 1 ? 'it is the only one, so the rail needs it' : `one of only ${count}, so the rail needs it`,
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
      says: 'No current flows. The contact is bad, the point is not on the rail, or the short has opened. Measure to ground again.',
    };
  const ohm = Math.max(0, seen.volts / seen.amps - leadsOhm);
  const ratio = seen.amps / step.amps;
  const flows = `${formatCurrent(seen.amps)} flow, ${formatCurrent(step.amps)} was expected`;
  if (ratio > 1 + policy.agreesShare)
    return {
      verdict: 'more',
      ohm,
      says: `${flows}. That is more than the measured resistance explains. Another part conducts under voltage, or the short got worse. Do not step up until you know which.`,
    };
  if (ratio < 1 / (1 + policy.agreesShare))
    return {
      verdict: 'less',
      ohm,
      says: `${flows}. The contact is poor, the leads are thin, or the short is opening. Press the probe in and look again.`,
    };
  return {
    verdict: 'as-planned',
    ohm,
    says: `${flows}, as the resistance predicts. Look for heat before stepping up.`,
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
  if (!(ohm > 0)) throw new RangeError('a leak must have a resistance above zero');
  const watts = (volts * volts) / ohm;
  return { amps: volts / ohm, watts, visible: visibility(watts) };
}
