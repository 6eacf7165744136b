import {
  actionKinds,
  circuitIds,
  complaintKinds,
  contractKinds,
  deviceClasses,
  feeds,
  heatOutcomes,
  longestWaitMinutes,
  markerEvents,
  outcomeGrades,
  parseQuantity,
  remarkIds,
  stageIds,
  waitKinds,
  type Kind,
  origins,
  swappedUnits,
} from '@umbral/core';
import * as yup from 'yup';
import { plainText } from './plain.ts';
import { ExpectedError } from './errors.ts';

/** Input of people, checked at the edge. Messages name the field as the screen does. */
export const text = (label: string, most: number) =>
  yup
    .string()
    .transform((x: unknown) => (typeof x === 'string' ? plainText(x).trim() : x))
    .max(most, `${label}: expected at most ${most} characters`)
    .default('');
export const orNull = <T extends string>(values: readonly T[], label: string) =>
  yup
    .mixed<T>()
    .transform((x: unknown) => (x === '' ? null : x))
    .nullable()
    .oneOf([...values, null], `${label}: choose one`)
    .default(null);
const flag = yup.boolean().default(false);

/** A day of the calendar as YYYY-MM-DD: no moment, so that it is the same day in every time zone. */
export const calendarDay = (label: string) =>
  yup
    .string()
    .transform((x: unknown) => (x === '' ? null : x))
    .test('a-day', `${label}: expected a date`, (x) => {
      if (x === null || x === undefined) return true;
      const at = /^\d{4}-\d{2}-\d{2}$/.test(x) ? new Date(`${x}T00:00:00Z`) : null;
      return at !== null && !Number.isNaN(at.getTime()) && at.toISOString().startsWith(x);
    });

export const id = yup.number().integer().positive().max(2_147_483_647).required();
/** What is odd about it was asked, and it is so. */
export const confirmed = yup.boolean().default(false);
export const version = yup.number().integer().positive().required();

const intakeInput = yup.object({
  liquid: flag,
  dropped: flag,
  priorRepair: flag,
  batterySwollen: flag,
  batteryIsolated: flag,
  dataWanted: flag,
  notes: text('Notes', 4000),
  heard: yup.array(yup.string().oneOf(remarkIds, 'Complaint: this remark is not known').required()).optional(),
});

/** What is known of a healthy unit of the model, or of this one. Quantities as typed, empty where nobody knows. */
export const knownInput = yup.object({
  mainV: text('Main rail voltage', 40),
  dcV: text('DC input', 40),
  batteryV: text('Battery', 40),
  contractV: text('Contract', 40),
  chargeA: text('Charge current', 40),
  quiescentA: text('Draw when off', 40),
  startPeakA: text('Peak during start', 40),
  idleA: text('Draw when running', 40),
  ports: text('Ports', 40),
  startsWithoutBattery: orNull(['yes', 'no'], 'Starts without the battery'),
  startsOnPower: orNull(['yes', 'no'], 'Starts when power is connected'),
});

export const jobInput = yup.object({
  label: text('Device', 200).required('Device: enter a name, such as "lending tablet, blue case"'),
  deviceClass: yup.string().oneOf(deviceClasses, 'Kind of device: choose one').required('Kind of device: choose one'),
  model: text('Model', 200),
  serial: text('Serial', 200),
  complaint: text('Complaint', 2000),
  complaintKind: orNull(complaintKinds, 'Complaint'),
  technician: text('Technician', 100),
  dueOn: calendarDay('Due').nullable().default(null),
  intake: intakeInput.required(),
  /** What is known of a healthy unit, as typed; left out where nobody was asked. */
  known: knownInput.optional().default(undefined),
});

export const stageInput = yup.object({ jobId: id, version, stage: yup.string().oneOf(stageIds).required() });

/** The change that an entry follows: left out for the newest, null for none. */
const follows = yup.string().max(200).nullable().optional();

export const checkInput = yup.object({
  jobId: id,
  check: text('Check', 100).required('Check: choose one'),
  outcome: yup.string().max(100).nullable().default(null),
  note: text('Note', 2000),
  /** Where it was seen, and the circuit of that place; for heat, what was fed. */
  where: text('Where', 200),
  circuit: orNull(circuitIds, 'Circuit'),
  rail: text('Fed', 120),
  /** The half that was looked at, and what was unplugged meanwhile. */
  half: yup.string().trim().max(60, 'Half: expected at most 60 characters').nullable().default(null),
  unplugged: yup.array().of(text('Unplugged', 120).required()).max(20).default([]),
  after: follows,
  confirmed,
});

/** The circuit of a place, found out after something was entered there. */
export const placeNameInput = yup
  .object({
    jobId: id,
    where: text('Where', 200).required('Where: enter the place'),
    circuit: orNull(circuitIds, 'Circuit'),
    /** Other names of the same place. */
    same: yup.array().of(text('Same place', 200).required()).max(20).default([]),
  })
  .test('says-something', 'Circuit: choose one', ({ circuit, same }) => circuit !== null || same.length > 0);

export const actionInput = yup.object({
  jobId: id,
  kind: yup.string().oneOf(actionKinds, 'What was done: choose one').required('What was done: choose one'),
  circuit: orNull(circuitIds, 'Circuit'),
  target: text('Part', 200),
  note: text('Note', 2000),
  runBefore: yup.string().max(200).nullable().default(null),
  /** The change that this one takes back. */
  undoes: yup
    .string()
    .transform((x: unknown) => (x === '' ? null : x))
    .max(200)
    .nullable()
    .default(null),
  /** Number with suffix as it stands on the part; how it sat, before it came off. */
  part: text('Part number', 200),
  orientation: text('Orientation', 200),
  /** What was taken off is meant to stay off. */
  stays: yup.boolean().default(false),
  /** A whole unit was swapped, unplugged or tried, and whose thing came in. */
  unit: orNull(swappedUnits, 'Unit'),
  with: orNull(origins, 'Known good or own'),
  /** Not done yet. */
  planned: yup.boolean().default(false),
  /** What makes the result weaker. */
  confounders: yup
    .array()
    .of(yup.string().oneOf(['donor', 'reworked', 'variant']).required())
    .default([]),
  /** What it waits for now, and for how many minutes; nothing for no wait. */
  waitKind: yup.string().oneOf(waitKinds, 'Waiting for: choose one').nullable().default(null),
  waitMinutes: yup
    .number()
    .typeError('How long: expected a number of minutes')
    .min(1, 'How long: expected 1 minute at least')
    .max(longestWaitMinutes, 'How long: expected 90 days at most')
    .nullable()
    .default(null),
  confirmed,
});

const amount = (label: string) => yup.string().max(60, `${label}: expected at most 60 characters`).default('');

/** A voltage put on a rail from any supply. */
export const injectionInput = yup.object({
  jobId: id,
  rail: text('Rail', 200).required('Rail: enter where you injected'),
  circuit: orNull(circuitIds, 'Circuit'),
  setV: amount('Volts').required('Volts: enter the injected voltage'),
  limitA: amount('Limit'),
  amps: amount('Amperes'),
  leadsOhm: amount('Leads'),
  referenceA: amount('Known-good board draws'),
  heat: orNull(heatOutcomes, 'What got warm'),
  hot: text('What got warm', 200),
  hotCircuit: orNull(circuitIds, 'Circuit of the warm part'),
  note: text('Note', 2000),
  after: follows,
});

export const outcomeInput = yup.object({
  jobId: id,
  version,
  grade: yup.string().oneOf(outcomeGrades, 'Outcome: choose one').required('Outcome: choose one'),
  circuit: orNull(circuitIds, 'Circuit'),
  target: text('Part', 400),
  fix: text('What fixed it', 2000),
  /** When it is to be looked at again. */
  recallAt: calendarDay('Check again on').nullable().default(null),
});

/** One entry of a job. */
const entryOf = {
  jobId: id,
  table: yup
    .string()
    .oneOf(['runs', 'checks', 'readings', 'injections', 'proofs', 'actions'] as const)
    .required(),
  entryId: id,
};

/** An entry that is taken back as entered by mistake. */
export const entryInput = yup.object(entryOf);

/** An entry that counts for nothing, with the reason; that counts again without one. */
export const voidInput = yup.object({ ...entryOf, why: text('Reason', 300) });

/** When an entry was done. */
export const timeInput = yup.object({
  ...entryOf,
  at: yup.date().typeError('Time: expected a date and a time').required('Time: enter a date and a time'),
});

/** A step to undo; the newest of whoever asks where left out. */
export const undoInput = yup.object({
  jobId: id,
  step: yup.number().integer().positive().nullable().default(null),
});

/** Puts an entry under another change, or before any. */
export const moveInput = yup.object({
  jobId: id,
  table: yup
    .string()
    .oneOf(['runs', 'checks', 'readings', 'injections'] as const)
    .required(),
  entryId: id,
  after: yup.string().max(200).nullable().default(null),
});

/** The run that shows the state before a change. */
export const runBeforeInput = yup.object({
  jobId: id,
  action: yup.string().max(200).required('Change: choose one'),
  run: yup.string().max(200).required('Run: choose one'),
});

export const markersInput = yup.object({
  runId: id,
  version,
  markers: yup
    .array()
    .of(
      yup.object({
        t: yup.number().required().min(-1e6).max(1e9),
        event: yup.string().oneOf(markerEvents).required(),
        note: yup.string().max(500).optional(),
        said: yup.number().min(-1e6).max(1e9).optional(),
      }),
    )
    .max(500)
    .required(),
});

/** How a run was made, as the form sends it: quantities as typed. */
export const runSetupInput = yup.object({
  feed: yup.string().oneOf(feeds, 'Feed: choose one').required('Feed: choose one'),
  setV: text('Set voltage', 40),
  limitA: text('Limit', 40),
  port: yup.number().integer().min(1, 'Port: expected a number from 1').max(99).nullable().default(null),
  flipped: flag,
  battery: orNull(['connected', 'disconnected', 'absent', 'known-good'], 'Battery'),
  display: orNull(['connected', 'disconnected', 'known-good'], 'Display'),
  board: orNull(['known-good'], 'Board'),
  assembly: orNull(['assembled', 'board-alone', 'half'], 'Assembly'),
  half: text('Half', 100),
  unplugged: yup.array().of(yup.string().trim().min(1).max(100).required()).max(50).default([]),
  deviceState: orNull(['off', 'asleep', 'running', 'unknown'], 'Device state'),
  batteryV: text('Battery voltage', 40),
  charger: orNull(['own', 'known-good', 'unknown'], 'Charger'),
  instrument: orNull(['bench-supply', 'usb-c-meter', 'dmm', 'current-probe', 'eye'], 'Instrument'),
  resolutionA: text('Resolution', 40),
  /** What the meter's decoder says was agreed. */
  contract: orNull(contractKinds, 'Contract'),
  contractV: text('Contract voltage', 40),
  contractA: text('Contract current', 40),
  after: follows,
});
export type RunSetupInput = yup.InferType<typeof runSetupInput>;

/**
 * A quantity as typed; null where the field is empty.
 *
 * @throws {ExpectedError} for text that is no such quantity, or one that is not above 0
 */
export function quantityOrNull(typed: string, kind: Kind, label: string, positive = true): number | null {
  if (typed.trim() === '') return null;
  const parsed = parseQuantity(typed, kind);
  if (!parsed.ok) throw new ExpectedError('input', `${label}: ${parsed.error}`);
  if (positive && !(parsed.value > 0)) throw new ExpectedError('input', `${label}: must be above 0`);
  return parsed.value;
}
