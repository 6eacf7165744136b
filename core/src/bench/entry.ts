import type { Reading, ReadingMode, ReadingWord } from '../case/index.ts';
import { clipText, findUnit, formatResistance, formatVoltage, parseQuantity, type Kind } from '../quantity/index.ts';
import policy from './measuring.json';
import { throughLeads } from './leads.ts';

/** Figures that a resistance keeps. */
const ohmDigits = 6;

/** What a reading swings between, where the meter does not come to rest. Volts. */
export interface Swing {
  low: number;
  high: number;
}

/** A reading as it was typed, in volts or ohms. */
export interface TypedReading {
  mode: ReadingMode;
  unit: 'V' | 'ohm';
  /** Null where the meter shows an open line. The middle of what it swings between. */
  value: number | null;
  ol: boolean;
  swing: Swing | null;
  /** What was said in place of a value. */
  says: ReadingWord | null;
  /** The value is a bound. */
  bound: Reading['bound'];
  /** As the meter showed it, where the leads were taken off; else null. */
  shownOhm: number | null;
}

/** What came of a line: the reading with what is odd about it, or why it is none. */
export type Entry =
  { ok: true; reading: TypedReading; asks: string[] } | { ok: false; error: string; asks?: undefined };

/** What is known where the probe stands. */
export interface EntryContext {
  /** The mode that is set; a unit or a letter in front decides otherwise. */
  mode: ReadingMode;
  /** What the meter shows with its leads held together, ohms; null where nobody looked. */
  leadsOhm: number | null;
  /** What the rail is made for, volts; null where nobody knows. */
  nominalV: number | null;
}

const letters: Record<string, ReadingMode> = { v: 'voltage', d: 'diode', r: 'resistance' };
const kindOf: Record<ReadingMode, Kind> = { voltage: 'voltage', diode: 'voltage', resistance: 'resistance' };
const modeWords: Record<ReadingMode, string> = {
  voltage: 'a voltage',
  diode: 'a diode reading',
  resistance: 'a resistance',
};
/** No measurement takes more characters. */
const longest = 200;

const openLine = /^(o\.?l\.?|0l|open|inf|∞)$/i;
// eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longest`
const swingForm = /^(.+?)\s*(?:~|\.\.|…)\s*(.+)$/;

/**
 * Reads one measurement as somebody types it with a probe in the other hand: `1.79`, `412 mV`, `d .41`, `r 12`, `4.7k`,
 * `OL`, `0.8~1.2`. A bare number is in the mode that is set. What cannot be is refused with what it might have been; what
 * hardly can be is taken with a question, so that it is confirmed and not swallowed.
 *
 * @example parseReading('412 mV', { mode: 'diode', leadsOhm: null, nominalV: null }).reading.value // 0.412
 */
export function parseReading(text: string, context: EntryContext): Entry {
  if (text.length > longest)
    return { ok: false, error: `"${clipText(text)}" is too long. Enter one value, such as 1.79 V` };
  const { mode: said, rest } = leadingLetter(text.trim(), context.mode);
  if (rest === '')
    return { ok: false, error: `nothing entered; expected ${modeWords[said]} such as ${exampleOf[said]}` };
  if (openLine.test(rest)) return openLineIn(said);
  const word = wordOf(rest);
  if (word !== null) return saidIn(said, word);
  const bounded = boundForm.exec(rest);
  if (bounded) return boundIn(said, bounded, context);
  const swing = swingForm.exec(rest);
  if (swing) return swingIn(said, swing[1], swing[2], context);
  const mode = modeOfUnit(rest, said);
  const parsed = parseQuantity(mode === 'resistance' ? spellOhms(rest) : rest, kindOf[mode]);
  if (!parsed.ok) return { ok: false, error: parsed.error };
  return judge(mode, said, parsed.value, parsed.stated !== null, context);
}

/** What people say in place of a number. */
function wordOf(text: string): ReadingWord | null {
  const plain = text.toLowerCase().replace(/[\s-]+/g, ' ');
  return spoken.find(([pattern]) => pattern.test(plain))?.[1] ?? null;
}

const spoken: readonly (readonly [RegExp, ReadingWord])[] = [
  [/^(no beep|does not beep|doesn't beep|silent)$/, 'no-beep'],
  [/^(it )?(beep|beeps)$/, 'beep'],
  [/^(not short|not shorted|no short)$/, 'not-short'],
  [/^(short|shorted|dead short)$/, 'short'],
  [/^(ok|okay|good|fine|as it should)$/, 'ok'],
];

function saidIn(mode: ReadingMode, says: ReadingWord): Entry {
  if (mode === 'voltage' && says !== 'ok') {
    const reading = { mode: 'resistance', unit: 'ohm', value: null, ol: false, says } as const;
    return { ok: true, reading: { ...plainTyped, ...reading }, asks: [] };
  }
  const unit = mode === 'resistance' ? 'ohm' : 'V';
  return { ok: true, reading: { ...plainTyped, mode, unit, value: null, ol: false, says }, asks: [] };
}

const plainTyped = { swing: null, says: null, bound: null, shownOhm: null } as const;

/** `>1k`, `above 1k`, `<1`, `under an ohm`: the true value lies beyond. */
const boundForm = /^(>|<|above|over|more than|below|under|less than)\s*(\S.*)$/i;

function boundIn(said: ReadingMode, [, way, text]: RegExpExecArray, context: EntryContext): Entry {
  const value = text.replace(/^an? kilo-?ohms?$/i, '1k').replace(/^an? ohm$/i, '1 ohm');
  const mode = said === 'voltage' && !/v(olts?)?$/i.test(value) ? 'resistance' : said;
  const read = parseReading(value, { ...context, mode, leadsOhm: null });
  if (!read.ok) return read;
  if (read.reading.value === null)
    return { ok: false, error: `"${clipText(text)}" is not a value. Enter one such as >1k` };
  const bound: Reading['bound'] = /^(>|above|over|more)/i.test(way) ? 'above' : 'below';
  return { ...read, reading: { ...read.reading, bound } };
}

const exampleOf: Record<ReadingMode, string> = {
  voltage: '1.79 or 0.8~1.2',
  diode: '0.412 or OL',
  resistance: '12 or 4.7k',
};

function leadingLetter(text: string, mode: ReadingMode): { mode: ReadingMode; rest: string } {
  // eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longest`
  const match = /^([vdr])(?=[\s\d.,:+-])\s*:?\s*(.*)$/i.exec(text);
  return match ? { mode: letters[match[1].toLowerCase()], rest: match[2].trim() } : { mode, rest: text };
}

/** The unit says what was measured: ohms are no voltage whatever was set, and volts are no resistance. */
function modeOfUnit(text: string, mode: ReadingMode): ReadingMode {
  const unit = findUnit(text.replace(/^[+-]?[\d.,]+(?:[eE][+-]?\d+)?\s*/, ''));
  if (unit?.kind === 'resistance') return 'resistance';
  return unit?.kind === 'voltage' && mode === 'resistance' ? 'voltage' : mode;
}

/** `4.7k` and `1M` are ohms to anybody at a meter. */
function spellOhms(text: string): string {
  return text.replace(/^([\d.,]+)\s*([kM])$/, '$1 $2ohm');
}

function openLineIn(mode: ReadingMode): Entry {
  if (mode === 'voltage')
    return {
      ok: false,
      error: 'OL is not a voltage. Enter volts, or put d (diode mode) or r (resistance) in front',
    };
  const unit = mode === 'diode' ? 'V' : 'ohm';
  return { ok: true, reading: { ...plainTyped, mode, unit, value: null, ol: true }, asks: [] };
}

function swingIn(mode: ReadingMode, first: string, second: string, context: EntryContext): Entry {
  if (mode !== 'voltage')
    return {
      ok: false,
      error: `only a voltage can swing. Enter one value for ${modeWords[mode]}, once it has settled: capacitors are still charging`,
    };
  const [a, b] = [first, second].map((part) => parseQuantity(part, 'voltage'));
  if (!a.ok) return { ok: false, error: a.error };
  if (!b.ok) return { ok: false, error: b.error };
  const [low, high] = [Math.min(a.value, b.value), Math.max(a.value, b.value)];
  const judged = judge('voltage', 'voltage', high, true, context);
  if (!judged.ok) return judged;
  // A last digit that jumps is a meter, not a rail that starts and stops.
  const swings = high - low > policy.swingShare * Math.max(Math.abs(high), policy.swingLeastV);
  const reading = { ...judged.reading, value: (low + high) / 2, swing: swings ? { low, high } : null };
  return { ...judged, reading };
}

function judge(mode: ReadingMode, said: ReadingMode, value: number, stated: boolean, context: EntryContext): Entry {
  const asks: string[] = [];
  if (mode === 'resistance' && value < 0)
    return {
      ok: false,
      error: `${value} ohm is not possible. Is there still a voltage on the rail? Disconnect the battery, wait for it to drain, and measure again.`,
    };
  if (said === 'diode' && mode === 'resistance')
    asks.push(`${formatResistance(value)} is a resistance, but diode mode shows volts. Save it as a resistance?`);
  if (said === 'resistance' && mode === 'voltage')
    asks.push(`${formatVoltage(value)} is a voltage, but a resistance was expected. Save it as a voltage?`);
  let read = value;
  if (mode === 'diode') {
    if (value < 0)
      return {
        ok: false,
        error: `${value} V is not possible in diode mode. Is something still powered, or was this a voltage?`,
      };
    if (!stated && value >= policy.millivoltsFrom && value <= 1000 * policy.maxDiodeV) {
      read = value / 1000;
      asks.push(`${value} in diode mode: keep it as ${formatVoltage(read)}, the meter shows millivolts?`);
    } else if (value > policy.maxDiodeV)
      return {
        ok: false,
        error: `${clipText(String(value))} V is more than a meter shows in diode mode. Expected up to ${policy.maxDiodeV} V, or OL`,
      };
  }
  if (mode === 'voltage') {
    const odd = oddVoltage(value, context.nominalV);
    if (odd.refused) return { ok: false, error: odd.says };
    if (odd.says !== '') asks.push(odd.says);
  }
  const unit = mode === 'resistance' ? 'ohm' : 'V';
  const leads = context.leadsOhm;
  const matters = mode === 'resistance' && read <= policy.leadsMatterOhm;
  const through = matters && leads !== null && leads > 0 ? throughLeads(read, leads) : null;
  if (through && read < (leads ?? 0) * (1 - policy.leadsRepeat))
    asks.push(
      `${formatResistance(read)} is less than the leads alone (${formatResistance(leads)}). Touch the probes together and measure the leads again.`,
    );
  const reading: TypedReading = {
    ...plainTyped,
    mode,
    unit,
    value: through ? Number(through.ohm.toPrecision(ohmDigits)) : read,
    ol: false,
    shownOhm: through ? read : null,
  };
  return { ok: true, reading, asks };
}

function oddVoltage(value: number, nominalV: number | null): { refused: boolean; says: string } {
  const shown = formatVoltage(value);
  if (Math.abs(value) > policy.maxVolts)
    return {
      refused: true,
      says: `${shown} is not possible on this bench (${policy.maxVolts} V at most). Did you mean ${formatVoltage(value / 1000)}? Then write ${value} mV.`,
    };
  if (value < -policy.negativeV)
    return { refused: false, says: `${shown} is below ground. Are the probes swapped, or is this a negative rail?` };
  if (nominalV !== null && value > policy.maxOverNominal * nominalV)
    return {
      refused: false,
      says: `${shown} on a rail rated for ${formatVoltage(nominalV)}. Is the probe on the right rail? If so, this is the fault.`,
    };
  return { refused: false, says: '' };
}
