import type { MeterReading } from '@umbral/instruments';
import { sayReading } from '@/features/measure/say-reading';

/** What an instrument showed when it was tried, for whoever stands before its display. */
export function sayShown({
  volts,
  amps,
  reading = null,
  rateHz,
}: {
  volts: number;
  amps: number;
  reading?: MeterReading | null;
  rateHz: number;
}): string {
  if (reading) return `${sayReading(reading)}. ${sayRate(rateHz)}. Does the display show the same?`;
  // As a display has it, so that the two can be compared digit by digit.
  return `${volts.toFixed(2)} V, ${amps.toFixed(3)} A. ${sayRate(rateHz)}. Does the display show the same?`;
}

/** How often it is read, in a few words. */
export const sayRate = (rateHz: number): string =>
  rateHz >= 2 ? `${Math.round(rateHz)} readings a second` : `a reading every ${(1 / rateHz).toFixed(1)} s`;
