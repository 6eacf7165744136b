import { formatResistance, formatVoltage } from '../quantity/index.ts';
import type { ReadingWord } from './records.ts';
import type { Reading } from './values.ts';

/** What a reading holds of the measurement itself. */
export type Measured = Pick<Reading, 'unit' | 'value' | 'ol' | 'swing' | 'says' | 'bound'>;

const saidWords: Record<ReadingWord, string> = {
  'no-beep': 'no beep',
  beep: 'it beeps',
  short: 'short',
  'not-short': 'not short',
  ok: 'reads normal',
  open: 'open line',
};

/** The measurement itself of a reading, without where and how it was taken. */
export const measuredOf = ({ unit, value, ol, swing, says, bound }: Measured): Measured => ({
  unit,
  value,
  ol,
  swing,
  says,
  bound,
});

/**
 * What was measured, in words: a value with its unit, what it swings between, or what was said in place of a value.
 *
 * @returns empty where nothing was said
 */
export function sayMeasured({ unit, value, ol, swing, says, bound }: Measured): string {
  // Diode mode shows thousandths, and a drop of 0.331 V is said with all of them.
  const volts = (x: number): string => (Math.abs(x) < 1 ? `${Number(x.toFixed(3))} V` : formatVoltage(x));
  const show = unit === 'ohm' ? formatResistance : volts;
  if (says) return saidWords[says];
  if (ol) return 'open line';
  if (swing) return `${show(swing.low).replace(/ V$/, '')} to ${show(swing.high)}`;
  if (value === null) return '';
  return bound === null ? show(value) : `${bound} ${show(value)}`;
}

const typedWords: Record<ReadingWord, string> = {
  'no-beep': 'no beep',
  beep: 'beeps',
  short: 'short',
  'not-short': 'not short',
  ok: 'ok',
  open: 'open',
};

/** What was measured as it is typed in, digit for digit: what `parseReading` reads as the same again. */
export function typeMeasured({ unit, value, ol, swing, says, bound }: Measured): string {
  if (says) return typedWords[says];
  if (ol) return 'OL';
  if (swing) return `${swing.low}~${swing.high}`;
  if (value === null) return '';
  const sign = bound === null ? '' : bound === 'above' ? '>' : '<';
  return `${sign}${value} ${unit}`;
}
