import type { Trace } from '../trace/index.ts';
import settings from './power-on.json';

/**
 * Holds what somebody read off a display against what it showed: each value at which the typed run stands must have stood
 * there, within what an eye reads off moving digits.
 *
 * @param read A over time, as typed; what was not read is NaN
 * @param shown A over time, as the display had it
 * @returns the first value, A, that the display never showed; null where it showed all of them
 * @example
 * const shown = [0, 0.41, 0.42];
 * neverShown({ i: Float32Array.of(0, 0, 42, 42) }, shown); // 42
 */
export function neverShown(read: Pick<Trace, 'i'>, shown: ArrayLike<number>): number | null {
  const values = Array.from(shown).filter(Number.isFinite);
  const isShown = (amps: number): boolean =>
    values.some((value) => Math.abs(value - amps) <= Math.max(settings.readSlackA, settings.readWithin * value));
  // Between two levels a typed line is joined by what nobody read.
  const stood = read.i.findIndex((amps, k) => amps === read.i[k - 1] && !isShown(amps));
  return stood < 0 ? null : read.i[stood];
}
