import policy from './measuring.json';

/** A resistance with what stands against taking it at its word. */
interface ThroughLeads {
  /** Ohms between the probes, the leads taken off; never negative. */
  ohm: number;
  /** False where the reading is so close to that of the shorted leads that it only says "no more than this". */
  isExact: boolean;
}

/**
 * Takes the leads off a resistance: what the meter shows with the probes held together is in every reading.
 *
 * @param shownOhm as the meter shows it, ohms
 * @param leadsOhm as it shows with the probes shorted, ohms; 0 where nobody looked
 * @throws {RangeError} for a negative or absent value
 * @example throughLeads(0.9, 0.4) // { ohm: 0.5, isExact: true }
 */
export function throughLeads(shownOhm: number, leadsOhm: number): ThroughLeads {
  if (!(shownOhm >= 0) || !(leadsOhm >= 0)) throw new RangeError('resistances cannot be below zero');
  const left = shownOhm - leadsOhm;
  const least = policy.contactOhm + policy.leadsRepeat * leadsOhm;
  return { ohm: Math.max(0, left), isExact: left > least };
}

/** What flows into a short, and what of it may be concluded. */
interface ShortEstimate {
  /** Ohms of the defect alone; an upper bound where `isBound`. */
  ohm: number;
  isBound: boolean;
}

/**
 * Resistance of a short from what the supply shows: Ohm's law with the leads in series, `R = V / I - R_leads`. A supply
 * in its limit whose voltage was not read back only bounds it: the set voltage is more than what stands there.
 *
 * @param volts at the terminals, or as set where `voltsAreSet`
 * @param amps above zero
 * @param leadsOhm of the leads and their contacts, ohms
 * @throws {RangeError} where no current flows
 * @example shortOhm({ volts: 0.9, amps: 1.5, leadsOhm: 0.2, limiting: false }) // { ohm: 0.4, isBound: false }
 */
export function shortOhm(of: {
  volts: number;
  amps: number;
  leadsOhm: number;
  limiting: boolean;
  voltsAreSet?: boolean;
}): ShortEstimate {
  if (!(of.amps > 0) || !(of.volts >= 0)) throw new RangeError('without a current the resistance cannot be worked out');
  const ohm = Math.max(0, of.volts / of.amps - of.leadsOhm);
  return { ohm, isBound: of.limiting && (of.voltsAreSet ?? false) };
}

/**
 * Current that a load on a converter's output draws from its input: power over efficiency,
 * `I_in = V_out * I_out / (efficiency * V_in)`.
 *
 * @param of volts and amperes; efficiency from above 0 to 1
 * @throws {RangeError} for an input without voltage or an efficiency that is none
 * @example inputAmps({ outV: 1.8, outA: 0.4, inV: 3.8, efficiency: 0.9 }) // 0.210526316
 */
export function inputAmps(of: { outV: number; outA: number; inV: number; efficiency: number }): number {
  if (!(of.inV > 0)) throw new RangeError('a converter needs an input voltage before its current can be worked out');
  if (!(of.efficiency > 0 && of.efficiency <= 1)) throw new RangeError('an efficiency must be above 0 and at most 1');
  return (of.outV * of.outA) / (of.efficiency * of.inV);
}
