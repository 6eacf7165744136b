import type { Case, Reading } from '../case/index.ts';
import type { WhyLeftOut } from '../reasons/index.ts';
import rules from './readings.json';

/** What a reading means by itself. */
type GroundSense = 'short' | 'low' | 'normal' | 'high';
type VoltageSense = 'present' | 'low' | 'swings' | 'missing' | 'high';
type AcrossSense = 'conducts' | 'open';

export type Sense =
  | { of: 'ground'; word: GroundSense }
  | { of: 'voltage'; word: VoltageSense }
  | { of: 'across'; word: AcrossSense }
  | { of: 'nothing'; why: WhyLeftOut };

const nothing = (id: Exclude<WhyLeftOut['id'], 'may-be-short' | 'seen-later' | 'needs-usb-c'>): Sense => ({
  of: 'nothing',
  why: { id, values: {} },
});

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
  if (reading.circuit === 'battery.pack') return expect.batteryV ?? null;
  return null;
}

/** What was found before at the place of a reading: earlier readings of it, the oldest first. */
export interface PlaceBefore {
  readings: readonly Reading[];
  /** The coils of the core phases were lifted when it was measured. */
  coilsOff: boolean;
}

const nothingBefore: PlaceBefore = { readings: [], coilsOff: false };

/**
 * What a reading means by itself and beside what was read at the same place before; with the reason where it means nothing.
 *
 * @param given volts or ohm, by its mode
 * @param expect what is stated of the unit: volts and amperes
 * @param before earlier readings of the place: before and after is the strongest comparison there is
 */
export function senseOf(
  given: Reading,
  expect: Case['device']['expect'] = {},
  before: PlaceBefore = nothingBefore,
): Sense {
  const reading = spoken(given);
  if (reading.mode === 'voltage') return voltageSense(reading, nominalOf(reading, expect));
  if (isAcross(reading)) return acrossSense(reading);
  return groundSense(reading, before);
}

/** A reading with the value or the bound that the words in its place stand for. */
function spoken(reading: Reading): Reading {
  const { says, mode } = reading;
  if (says === null || mode === 'voltage') return reading;
  if (says === 'open') return { ...reading, ol: true };
  const meant = rules.says[says];
  if (mode === 'diode') return { ...reading, value: meant.diodeV };
  return { ...reading, value: meant.ohm, bound: meant.bound as Reading['bound'] };
}

function acrossSense({ value, ol, reference, bound }: Reading): Sense {
  if (ol || value === null) return { of: 'across', word: 'open' };
  if (bound === 'above') return { of: 'across', word: value >= rules.conductsBelowOhm ? 'open' : 'conducts' };
  const conducts =
    value < (bound === 'below' ? rules.partialOhm + 1 : rules.conductsBelowOhm) &&
    (reference === null || value < Math.max(rules.conductorReferenceOhm, rules.conductorRatio * reference));
  return { of: 'across', word: conducts ? 'conducts' : 'open' };
}

/** Words for the transistor side of a phase: nothing of the processor hangs there once its coil is off. */
const transistorSide =
  /\b(switch(?:ing)? (?:pin|node)|high[ -]side|low[ -]side|gate|drain|coils? (?:is |are )?off|lifted)\b/i;

/** Low by nature: the rails of processors, as long as they hang together with them. */
function isCoreReading({ circuit, where }: Reading, { coilsOff }: PlaceBefore): boolean {
  if (circuit === null || !rules.coreCircuits.includes(circuit)) return false;
  return (
    circuit === 'core.soc' || !(transistorSide.test(where) || (coilsOff && !/processor|chip side|load/i.test(where)))
  );
}

function groundSense(reading: Reading, before: PlaceBefore): Sense {
  const { mode, value, ol, reference } = reading;
  const isCore = isCoreReading(reading, before);
  if (ol || value === null) return openSense(reading, before);
  if (mode === 'diode') return diodeSense(reading, value, isCore, before);
  if (reading.bound === 'above') {
    if (reference !== null && reference < rules.openReferenceOhm && value > rules.openRatio * reference)
      return { of: 'ground', word: 'high' };
    return value >= rules.notShortFromOhm
      ? { of: 'ground', word: 'normal' }
      : { of: 'nothing', why: { id: 'may-be-short', values: { value } } };
  }
  if (reference !== null && reference > 0) return againstReference(reading, value, reference, isCore);
  const moved = sinceBefore(value, before);
  if (moved !== null) return { of: 'ground', word: moved };
  if (isCore) {
    if (value < rules.coreShortOhm) return { of: 'ground', word: 'short' };
    return nothing('low-on-a-core');
  }
  if (value < rules.hardShortOhm) return { of: 'ground', word: 'short' };
  if (value < rules.partialOhm) return { of: 'ground', word: countsPartial(reading) ? 'short' : 'low' };
  return { of: 'ground', word: 'normal' };
}

/** Three to thirty ohm are a short on rails that feed no big chip, and where nobody knows the rail. */
const countsPartial = ({ circuit }: Reading): boolean => circuit === null || rules.partialCounts.includes(circuit);

function againstReference(reading: Reading, value: number, reference: number, isCore: boolean): Sense {
  const ratio = value / reference;
  const hard = isCore ? rules.coreShortOhm : rules.hardShortOhm;
  if (ratio < rules.tellingRatio) {
    const partial = countsPartial(reading) && value < rules.partialOhm;
    return { of: 'ground', word: value < hard || partial || ratio < rules.shortRatio ? 'short' : 'low' };
  }
  return { of: 'ground', word: ratio > rules.openRatio && reference < rules.openReferenceOhm ? 'high' : 'normal' };
}

/** Against itself earlier: a place that was short is free once it reads several times as much. */
function sinceBefore(value: number, { readings }: PlaceBefore): 'normal' | null {
  const last = readings.findLast((r) => r.mode === 'resistance' && r.value !== null && r.bound === null);
  if (last?.value == null || last.value >= rules.partialOhm) return null;
  return value > rules.openRatio * Math.max(last.value, rules.leadsOhm) && value >= rules.hardShortOhm
    ? 'normal'
    : null;
}

function diodeSense(reading: Reading, value: number, isCore: boolean, before: PlaceBefore): Sense {
  const { reference } = reading;
  if (value < rules.diodeShortV && !(isCore && reference !== null && value > rules.tellingRatio * reference))
    return { of: 'ground', word: 'short' };
  if (reference !== null && reference > 0) {
    const ratio = value / reference;
    return { of: 'ground', word: ratio < rules.tellingRatio ? 'low' : ratio > rules.openRatio ? 'high' : 'normal' };
  }
  if (value >= rules.diodeSoundV || wasShort(before)) return { of: 'ground', word: 'normal' };
  return countsPartial(reading) ? { of: 'ground', word: 'low' } : nothing('low-on-a-big-chip');
}

/** `OL`: no longer short where it was, open where a line conducted, and otherwise no short. */
function openSense({ reference }: Reading, before: PlaceBefore): Sense {
  if (wasShort(before)) return { of: 'ground', word: 'normal' };
  const conducted = before.readings.some((r) => r.mode === 'diode' && r.value !== null && r.value >= rules.diodeSoundV);
  return { of: 'ground', word: reference !== null || conducted ? 'high' : 'normal' };
}

function wasShort({ readings }: PlaceBefore): boolean {
  return readings.some((r) => {
    const sense = r.mode === 'voltage' || isAcross(r) ? null : groundSense(spoken(r), nothingBefore);
    return sense?.of === 'ground' && (sense.word === 'short' || sense.word === 'low');
  });
}

const runStates = ['run', 'S0', 'boot'];

function voltageSense(reading: Reading, nominal: number | null): Sense {
  const { value, swing, prompted, state, ol, says } = reading;
  if (says === 'ok') return { of: 'voltage', word: 'present' };
  if (ol || value === null) return nothing('no-voltage');
  const notAsked = prompted === false && state !== null && runStates.includes(state);
  if (swing && swing.high - swing.low > rules.swingShare * Math.max(swing.high, nominal ?? 0)) {
    const stands = nominal !== null && nominal > 0 && swing.low >= rules.lowRatio * nominal;
    return { of: 'voltage', word: stands ? 'present' : 'swings' };
  }
  const word = levelWord(value, nominal);
  if (word === null) return nothing('no-expectation');
  if (notAsked && word !== 'present' && word !== 'high') return nothing('not-powered-on');
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
