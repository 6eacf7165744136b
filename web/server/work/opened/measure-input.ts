import { circuitIds, railStates, readingModes } from '@umbral/core';
import * as yup from 'yup';
import { plainText } from '../../record/db.ts';
import { id, orNull } from '../../record/input.ts';

const phases = ['before', 'after', 'plugged'] as const;

const words = (label: string, most: number) =>
  yup
    .string()
    .transform((x: unknown) => (typeof x === 'string' ? plainText(x).trim() : x))
    .max(most, `${label}: expected at most ${most} characters`)
    .default('');

/** What every typed reading says of how it was taken. */
const taken = {
  jobId: id,
  mode: yup.string().oneOf(['voltage', 'diode', 'resistance']).required(),
  /** When a voltage was read; null where nobody said. */
  phase: orNull(phases, 'Measured'),
  redProbe: yup.string().oneOf(['ground', 'point']).default('ground'),
  circuit: orNull(circuitIds, 'Circuit'),
  state: orNull(railStates, 'Power state'),
  leadsOhm: yup
    .number()
    .min(0, 'Leads: cannot be negative')
    .max(5, 'Leads: expected at most 5 ohm')
    .nullable()
    .default(null),
  /** What was odd about it has been asked and confirmed. */
  confirmed: yup.boolean().default(false),
  /** The change that it follows; the newest where nobody said. */
  after: yup.string().max(200).nullable().optional(),
};

/** Many points typed in one go. */
export const sweepInput = yup.object({
  ...taken,
  text: words('Points', 4000).required('Points: enter a name and a value for each, such as coil1 45, coil2 90'),
});

/** A reading typed at the ladder or in the job. */
export const measureInput = yup.object({
  ...taken,
  where: yup
    .string()
    .transform((x: unknown) => (typeof x === 'string' ? plainText(x).trim() : x))
    .max(200)
    .required('Where: enter the rail, net or part'),
  text: yup.string().max(60, 'Value: expected at most 60 characters').required('Value: enter what the meter shows'),
  /** The good board that lies beside it, rather than the patient. */
  good: yup.boolean().default(false),
  /** Between the two ends of a part that should conduct. */
  across: yup.boolean().default(false),
  /** What a good board reads there, as typed; found by itself where it is empty. */
  reference: words('Known-good board reads', 60),
});
/** A reading that is corrected. */
export const readingEditInput = yup.object({
  jobId: id,
  readingId: id,
  where: words('Where', 200).required('Where: enter the rail, net or part'),
  text: yup.string().max(60, 'Value: expected at most 60 characters').required('Value: enter what the meter shows'),
  mode: yup.string().oneOf(readingModes, 'Mode: choose one').nullable().default(null),
  confirmed: yup.boolean().default(false),
});
export type MeasureInput = yup.InferType<typeof measureInput>;
