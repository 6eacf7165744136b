/** What a display shows of one instant; the step is the value of its last digit. V, A, W. */
export interface ShownStep {
  value: number;
  step: number;
}

/**
 * Whether volts, amperes and watts on one display agree: each may be off by its last digit, and they may have been measured a little
 * apart.
 *
 * @param tolerance share of the watts that they may differ by beside that
 * @example powerAgrees({ value: 5, step: 0.01 }, { value: 1, step: 0.01 }, { value: 5, step: 0.1 }, 0) // true
 */
export function powerAgrees(volts: ShownStep, amps: ShownStep, watts: ShownStep, tolerance: number): boolean {
  const product = volts.value * amps.value;
  const byDigits =
    Math.abs(volts.value) * amps.step + Math.abs(amps.value) * volts.step + volts.step * amps.step + watts.step;
  return Math.abs(watts.value - product) <= byDigits + tolerance * Math.abs(product);
}
