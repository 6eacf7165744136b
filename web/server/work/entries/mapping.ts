import { readInput } from '@umbral/core';
import type { ColumnMapping } from '@umbral/core';
import * as yup from 'yup';

const column = yup.number().integer().min(0).max(500).nullable().default(null);

const mappingInput = yup.object({
  time: column,
  timeUnit: yup
    .string()
    .oneOf(['s', 'ms', 'us'] as const)
    .default('s'),
  rateHz: yup.number().positive('Rate: must be above 0').max(1e7).nullable().default(null),
  voltage: column,
  voltageUnit: yup
    .string()
    .oneOf(['V', 'mV'] as const)
    .default('V'),
  current: column,
  currentUnit: yup
    .string()
    .oneOf(['A', 'mA', 'uA'] as const)
    .default('A'),
});

/**
 * What a person said about the columns of a log; null where nothing was said.
 *
 * @throws {yup.ValidationError} where neither a current nor a voltage is named
 */
export function readMapping(raw: unknown): ColumnMapping | null {
  if (raw === null) return null;
  const mapping = readInput(mappingInput, raw);
  if (mapping.current === null && mapping.voltage === null) {
    throw new yup.ValidationError('Choose at least the column for current or voltage');
  }
  return mapping;
}
