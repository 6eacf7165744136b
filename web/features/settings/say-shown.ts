/** What an instrument showed when it was tried, for whoever stands before its display. */
export function sayShown({ volts, amps, rateHz }: { volts: number; amps: number; rateHz: number }): string {
  // As a display has it, so that the two can be compared digit by digit.
  return `${volts.toFixed(2)} V, ${amps.toFixed(3)} A. ${sayRate(rateHz)}. Does the display say the same?`;
}

/** How often it is read, in a few words. */
export const sayRate = (rateHz: number): string =>
  rateHz >= 2 ? `${Math.round(rateHz)} readings a second` : `a reading every ${(1 / rateHz).toFixed(1)} s`;
