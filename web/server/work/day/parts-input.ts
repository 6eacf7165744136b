import { circuitIds, deviceClasses } from '@umbral/core';
import * as yup from 'yup';
import { calendarDay, id, text } from '../../record/input.ts';

const count = (label: string, least: number) =>
  yup
    .number()
    .typeError(`${label}: expected a whole number`)
    .integer(`${label}: expected a whole number`)
    .min(least, least === 0 ? `${label}: cannot be negative` : `${label}: expected ${least} at least`)
    .max(100_000, `${label}: expected at most 100,000`)
    .required(`${label}: expected a whole number`);

export const partInput = yup.object({
  id: yup.number().integer().positive().nullable().default(null),
  version: yup.number().integer().min(0).default(0),
  name: text('Name', 120).required('Name: enter a name'),
  number: text('Number', 120).required('Number: enter it as printed on the part'),
  suffix: text('Suffix', 40),
  fits: yup
    .array()
    .of(yup.string().trim().min(1).max(40).required())
    .max(20, 'Replaces suffixes: expected at most 20')
    .default([]),
  deviceClass: yup.string().oneOf(deviceClasses).nullable().default(null),
  model: text('Model', 120),
  circuit: yup.string().oneOf(circuitIds, 'Circuit: choose one').required('Circuit: choose one'),
  minimum: count('Minimum', 0),
  cost: yup.number().typeError('Cost: expected a number').min(0, 'Cost: cannot be negative').max(1e6).default(0),
  supplier: text('Supplier', 120),
  shelf: text('Shelf', 80),
});

export const countInput = yup.object({ partId: id, counted: count('Counted', 0) });
export const orderPartInput = yup.object({
  partId: id,
  count: count('Quantity', 1),
  dueOn: calendarDay('Expected on').required('Expected on: enter a date'),
  jobId: yup.number().integer().positive().nullable().default(null),
});
export const takePartInput = yup.object({
  partId: id,
  jobId: id,
  count: count('Quantity', 1),
  /** Suffix of the part that comes off; empty where nobody noted it. */
  wanted: text('Suffix of the old part', 40),
  /** It was asked about, and is taken all the same. */
  confirmed: yup.boolean().default(false),
});
