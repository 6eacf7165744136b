'use server';

import { action, changed, question } from '@/features/action';
import * as yup from 'yup';
import type { Result } from '@/server/record/errors';
import {
  removeInstrument,
  restoreInstrument,
  saveCalibration,
  saveInstrument,
} from '@/server/edges/recorder/instruments';
import { dayPolicyInput, dayPolicyOf } from '@/server/work/shop/day-policy';
import { saveWorker, workerInput } from '@/server/work/day/workers';
import { policyInput, saveDayPolicy, savePolicy } from '@/server/work/shop/policy';
import type { TaughtBytes } from '@umbral/instruments';
import {
  benchInput,
  dialectInput,
  dialectText,
  findAtPlace,
  guessAtBench,
  keepDialect,
  listenAtPlace,
  listenInput,
  loadPlaces,
  placeFields,
  placeInput,
  placeOf,
  tryAtPlace,
  tryInput,
} from '@/server/edges/recorder/finding';
import { ask } from '@/server/edges/recorder/recorder';
import { eraseJob } from '@/server/work/entries/trash';

const key = yup.string().max(120).required();
const version = yup.number().integer().min(0).required();
const name = (label: string) => yup.string().trim().max(120, `${label}: at most 120 characters`);
const identifier = (label: string) =>
  yup
    .string()
    .trim()
    .matches(
      /^([0-9a-f]{4}|[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12})?$/i,
      `${label}: expected four hexadecimal digits, such as ffe0, or a whole identifier`,
    )
    .default('');
const instrumentInput = yup.object({
  key: yup.string().max(120).nullable().default(null),
  version,
  name: name('Name').required('Name: enter what you call it at your bench'),
  kind: yup.string().oneOf(['supply', 'meter', 'multimeter']).required(),
  dialect: yup.string().max(120).required('Language: choose what it speaks'),
  ...placeFields,
  way: yup.string().oneOf(['tcp', 'serial', 'simulated', 'camera', 'browser']).required(),
  /** How a page reaches it, and its identifiers of Bluetooth. */
  pageWay: yup.string().oneOf(['serial', 'hid', 'bluetooth']).default('serial'),
  service: identifier('Service'),
  notify: identifier('Notify characteristic'),
  write: identifier('Write characteristic'),
});

export type InstrumentFields = yup.InferType<typeof instrumentInput>;

function transportOf(f: InstrumentFields) {
  if (f.way === 'simulated')
    return { kind: 'simulated' as const, which: f.kind === 'supply' ? ('supply' as const) : ('meter' as const) };
  if (f.way === 'camera') return { kind: 'camera' as const };
  if (f.way === 'browser') return atPageOf(f);
  return placeOf(f);
}

function atPageOf({ pageWay, baudRate, unit, service, notify, write }: InstrumentFields) {
  if (pageWay === 'bluetooth' && (!service || !notify))
    throw new yup.ValidationError('Bluetooth: enter the service and the notify characteristic');
  const ids = pageWay === 'bluetooth' ? { service, notify, write } : {};
  return { kind: 'browser' as const, way: pageWay, baudRate: pageWay === 'serial' ? baudRate : null, unit, ...ids };
}

export const keepInstrument = action('lead', instrumentInput, async (fields) => {
  const { key: of, version: at, name: called, benchId } = fields;
  const isSeen = fields.way === 'camera';
  const kind = isSeen ? 'meter' : fields.kind;
  const dialect = isSeen ? 'camera' : fields.dialect;
  return saveInstrument(of, at, { name: called, kind, dialect, transport: transportOf(fields), benchId });
});

const removeInput = yup.object({ key, version });

export const takeInstrumentAway = action('lead', removeInput, ({ key, version }) => removeInstrument(key, version));

export async function putInstrumentBack(spec: unknown): Promise<Result<string[]>> {
  return changed('lead', () => restoreInstrument(spec));
}

const number = yup.number().required();
const calibrationInput = yup.object({
  key,
  quantity: yup.string().oneOf(['voltage', 'current']).required(),
  points: yup
    .array(yup.object({ trusted: number, shown: number, spread: number.min(0) }))
    .max(12)
    .required(),
  against: name('Trusted meter').default(''),
  technician: name('Who').default(''),
});

export const keepCalibration = action('lead', calibrationInput, ({ key: of, quantity, points, against, technician }) =>
  saveCalibration(of, quantity, points, { against, technician }),
);

/** Reads settings and files of the data folder again. */
export async function readSettingsAgain(): Promise<Result<{ problems: string[] }>> {
  return changed('lead', async () => {
    return ask<{ problems: string[] }>('recorder', '/reload', {});
  });
}

export const keepPolicy = action('lead', policyInput, savePolicy);

/** Hours, equipment and prices that the run sheet goes by. */
export const keepDay = action('lead', dayPolicyInput, (input) => saveDayPolicy(input.version, dayPolicyOf(input)));

/** How far somebody opens a device, and when they are at the bench. */
export const keepWorker = action('lead', workerInput, saveWorker);

/** Deletes a job that is in the trash, with all that belongs to it. */
export const eraseForGood = action('lead', yup.number().integer().positive().required(), (input) =>
  eraseJob(input, 'by hand'),
);

/** Serial ports of a bench, and usual speeds. */
export const placesAt = question('lead', benchInput, loadPlaces);
export const findAt = question('lead', placeInput, findAtPlace);
export const tryAt = question('lead', tryInput, tryAtPlace);
export const listenAt = question('lead', listenInput, listenAtPlace);

const guessInput = yup.object({ benchId: benchInput, taught: yup.mixed<TaughtBytes>().required() });
/** Where the values stand in what was heard; the recorder says what is wrong with how it is cut. */
export const guessFieldsAt = question('lead', guessInput, ({ benchId, taught }) => guessAtBench(benchId, taught));

const spokenInput = yup.object({ benchId: benchInput, id: yup.string().max(120).required() });
export const readDialectText = question('lead', spokenInput, ({ benchId, id }) => dialectText(benchId, id));

export const keepTaught = action('lead', dialectInput, keepDialect);
