import { circuitIds, deviceClasses } from '@umbral/core';
import * as yup from 'yup';
import { id, text } from '../platform/input.ts';

const count = (label: string, least: number) =>
  yup
    .number()
    .typeError(`${label}: expected a whole number`)
    .integer(`${label}: expected a whole number`)
    .min(least, least === 0 ? `${label}: never below none` : `${label}: expected ${least} at least`)
    .max(100_000, `${label}: expected at most 100,000`)
    .required(`${label}: expected a whole number`);

export const partInput = yup.object({
  id: yup.number().integer().positive().nullable().default(null),
  version: yup.number().integer().min(0).default(0),
  name: text('Name', 120).required('Name: say what it is'),
  number: text('Number', 120).required('Number: as it stands on the part'),
  suffix: text('Suffix', 40),
  fits: yup
    .array()
    .of(yup.string().trim().min(1).max(40).required())
    .max(20, 'Stands in for: expected at most 20')
    .default([]),
  deviceClass: yup.string().oneOf(deviceClasses).nullable().default(null),
  model: text('Model', 120),
  circuit: yup
    .string()
    .oneOf(circuitIds, 'Circuit: choose what it belongs to')
    .required('Circuit: choose what it belongs to'),
  minimum: count('Minimum', 0),
  cost: yup.number().typeError('Cost: expected a number').min(0, 'Cost: never below zero').max(1e6).default(0),
  shelf: text('Shelf', 80),
});

export const countInput = yup.object({ partId: id, counted: count('Counted', 0) });
export const orderPartInput = yup.object({
  partId: id,
  count: count('How many', 1),
  dueAt: yup.date().typeError('Comes on: expected a day').required('Comes on: say when'),
  jobId: yup.number().integer().positive().nullable().default(null),
});
export const takePartInput = yup.object({
  partId: id,
  jobId: id,
  count: count('How many', 1),
  /** Suffix of the part that comes off; empty where nobody noted it. */
  wanted: text('Suffix of the old part', 40),
  /** It was asked about, and is taken all the same. */
  confirmed: yup.boolean().default(false),
});
