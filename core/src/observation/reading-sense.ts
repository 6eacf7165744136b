import type { Case, Reading } from '../case/index.ts';
import rules from './readings.json';

/** What a reading means by itself. */
export type GroundSense = 'short' | 'low' | 'normal' | 'high';
export type VoltageSense = 'present' | 'low' | 'swings' | 'missing' | 'high';
export type AcrossSense = 'conducts' | 'open';

export type Sense =
  | { of: 'ground'; word: GroundSense }
  | { of: 'voltage'; word: VoltageSense }
  | { of: 'across'; word: AcrossSense }
  | { of: 'nothing'; why: string };

const nothing = (why: string): Sense => ({ of: 'nothing', why });

/** True for a reading between the two ends of a part: it was said, or the good part reads as a conductor does. */
export function isAcross(reading: Reading): boolean {
  if (reading.mode !== 'resistance') return false;
  const { reference, circuit } = reading;
  const isCore = circuit !== null && rules.coreCircuits.includes(circuit);
  return reading.across || (!isCore && reference !== null && reference < rules.conductorReferenceOhm);
}

/**
 * The voltage that a rail should carry: as read on a good board, as its name says ("standby 3.3 V"), as stated for the
 * main rail of this unit. Volts; null where nobody knows.
 *
 * @param reading the point, and a good board's value where it was a voltage, V
 * @param expect what is stated of the unit: volts and amperes
 */
export function nominalOf(
  reading: Pick<Reading, 'where' | 'circuit' | 'mode' | 'reference'>,
  expect: Case['device']['expect'],
): number | null {
  if (reading.mode === 'voltage' && reading.reference !== null) return reading.reference;
  const named = /(\d+(?:[.,]\d+)?)\s*v\b/i.exec(reading.where);
  if (named) return Number(named[1].replace(',', '.'));
  if (reading.circuit === 'rail.main') return expect.mainV ?? null;
  return null;
}

/**
 * What a reading means, taken by itself; with the reason where it means nothing.
 *
 * @param reading volts or ohm, by its mode
 * @param expect what is stated of the unit: volts and amperes
 */
export function senseOf(reading: Reading, expect: Case['device']['expect'] = {}): Sense {
  if (reading.mode === 'voltage') return voltageSense(reading, nominalOf(reading, expect));
  if (isAcross(reading)) return acrossSense(reading);
  return groundSense(reading);
}

function acrossSense({ value, ol, reference }: Reading): Sense {
  if (ol || value === null) return { of: 'across', word: 'open' };
  const conducts =
    value < rules.conductsBelowOhm &&
    (reference === null || value < Math.max(rules.conductorReferenceOhm, rules.conductorRatio * reference));
  return { of: 'across', word: conducts ? 'conducts' : 'open' };
}

function groundSense({ mode, value, ol, reference, circuit }: Reading): Sense {
  if (ol || value === null) {
    if (reference === null) return nothing('open line without a good board to compare with says nothing');
    return { of: 'ground', word: 'high' };
  }
  const isCore = circuit !== null && rules.coreCircuits.includes(circuit);
  if (mode === 'diode') {
    if (value < rules.diodeShortV && !(isCore && reference !== null && value > rules.tellingRatio * reference))
      return { of: 'ground', word: 'short' };
    if (reference === null || reference <= 0)
      return nothing('a diode reading without one of a good board says nothing but a plain short');
    const ratio = value / reference;
    return { of: 'ground', word: ratio < rules.tellingRatio ? 'low' : ratio > rules.openRatio ? 'high' : 'normal' };
  }
  if (reference !== null && reference > 0) {
    const ratio = value / reference;
    const hard = isCore ? rules.coreShortOhm : rules.hardShortOhm;
    if (ratio < rules.tellingRatio) {
      const partial = circuit !== null && rules.partialCounts.includes(circuit) && value < rules.partialOhm;
      return { of: 'ground', word: value < hard || partial || ratio < rules.shortRatio ? 'short' : 'low' };
    }
    return { of: 'ground', word: ratio > rules.openRatio && reference < rules.openReferenceOhm ? 'high' : 'normal' };
  }
  if (isCore) {
    if (value < rules.coreShortOhm) return { of: 'ground', word: 'short' };
    return nothing('a low resistance is normal on a core rail: it tells only against a good board');
  }
  if (value < rules.hardShortOhm) return { of: 'ground', word: 'short' };
  if (value < rules.partialOhm) {
    if (circuit !== null && rules.partialCounts.includes(circuit)) return { of: 'ground', word: 'short' };
    return { of: 'ground', word: 'low' };
  }
  return { of: 'ground', word: 'normal' };
}

const runStates = ['run', 'S0', 'boot'];

function voltageSense(reading: Reading, nominal: number | null): Sense {
  const { value, swing, prompted, state, ol } = reading;
  if (ol || value === null) return nothing('a voltage has no open line');
  const notAsked = prompted === false && state !== null && runStates.includes(state);
  if (swing && swing.high - swing.low > rules.swingShare * Math.max(swing.high, nominal ?? 0)) {
    const stands = nominal !== null && nominal > 0 && swing.low >= rules.lowRatio * nominal;
    return { of: 'voltage', word: stands ? 'present' : 'swings' };
  }
  const word = levelWord(value, nominal);
  if (word === null) return nothing('nobody said what should stand there');
  if (notAsked && word !== 'present' && word !== 'high')
    return nothing('the device was not asked to start when it was measured: a rail of the running state may be off');
  return { of: 'voltage', word };
}

function levelWord(value: number, nominal: number | null): VoltageSense | null {
  if (nominal !== null && nominal > 0) {
    const ratio = value / nominal;
    if (ratio < rules.missingRatio) return 'missing';
    if (ratio < rules.lowRatio) return 'low';
    return ratio > rules.highRatio && value - nominal > rules.highFromV ? 'high' : 'present';
  }
  // A line that should be at nothing: standing is the fault.
  if (nominal === 0) return value > rules.presentV ? 'high' : 'present';
  if (value < rules.missingV) return 'missing';
  return value > rules.presentV ? 'present' : null;
}
