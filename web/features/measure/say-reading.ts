import type { MeterReading } from '@umbral/instruments';
import { formatResistance, formatVoltage } from '@umbral/core/words';

/** What a multimeter shows. */
export function sayReading({ mode, value, ol }: MeterReading): string {
  if (ol || value === null) return 'OL';
  return mode === 'voltage' || mode === 'diode' ? formatVoltage(value) : formatResistance(value);
}

const milli = 1000;

/** What a last digit is worth in the range that it is in; empty for an open line. */
export function sayStep({ mode, step }: MeterReading): string {
  if (step === null) return '';
  const unit = mode === 'voltage' || mode === 'diode' ? 'V' : 'ohm';
  return step < 1 ? `${Number((step * milli).toPrecision(3))} m${unit}` : `${step} ${unit}`;
}
