import { findUnit } from '../../quantity/index.ts';
import { median } from '../../trace/index.ts';
import { splitUnit } from './cells.ts';
import type { Layout } from './sniff.ts';
import { timeFormOf } from './time.ts';
import { type Columns } from './column-roles.ts';
import { numbersOf } from './column-numbers.ts';

/** Where the time stands and in what form; null where the column holds no time. A guess is noted in `columns`. */
export function timeColumn(layout: Layout, index: number, unit: string | null, columns: Columns): Columns['time'] {
  const forms = layout.rows.map((r) => timeFormOf(r[index] ?? '')).filter((f) => f !== null);
  if (forms.length === 0) {
    const withUnits = layout.rows.some((r) => splitUnit(r[index] ?? '')?.kind === 'time');
    return withUnits || layout.rows.length === 0 ? { index, form: 'number', factor: 1 } : null;
  }
  const form = forms[Math.floor(forms.length / 2)];
  if (form !== 'number') return { index, form, factor: 1 };
  const stated = unit ? findUnit(unit) : null;
  if (stated?.kind === 'time') return { index, form, factor: stated.factor };
  return { index, form, factor: guessTimeFactor(numbersOf(layout, index), columns) };
}

function guessTimeFactor(times: number[], columns: Columns): number {
  if (times.length === 0) return 1;
  const size = median(times.map(Math.abs));
  if (size > 1e17) return noteGuess(columns, 1e-9, 'nanoseconds since 1970');
  if (size > 1e14) return noteGuess(columns, 1e-6, 'microseconds since 1970');
  if (size > 1e11) return noteGuess(columns, 1e-3, 'milliseconds since 1970');
  if (size > 5e8) return noteGuess(columns, 1, 'seconds since 1970');
  const steps = times
    .slice(1)
    .map((t, k) => t - times[k])
    .filter((d) => d > 0);
  const step = steps.length === 0 ? 0 : median(steps);
  const whole = times.every((t) => Number.isInteger(t));
  return whole && step >= 8 ? noteGuess(columns, 1e-3, 'milliseconds') : noteGuess(columns, 1, 'seconds');
}

/**
 * Notes that the unit of the time was guessed.
 *
 * @param columns whose guesses are added to
 * @param factor seconds in the guessed unit
 * @param words the guessed unit
 * @returns the factor
 */
function noteGuess(columns: Columns, factor: number, words: string): number {
  columns.guesses.push(`The time column has no unit; it was read as ${words}.`);
  return factor;
}
