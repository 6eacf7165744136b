import type { MeterReading } from '@umbral/instruments';
import { formatResistance, formatVoltage } from '@umbral/core/words';

/** What a multimeter shows. */
export function sayReading({ mode, value, ol }: MeterReading): string {
  if (ol || value === null) return 'OL';
  return mode === 'voltage' || mode === 'diode' ? formatVoltage(value) : formatResistance(value);
}
