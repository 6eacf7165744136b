import type { FoundAt, GuessedFields, Listened, Place, PlacesHere, TaughtBytes, Tried } from '@umbral/instruments';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { transaction } from '../../record/db.ts';
import { askAt } from './recorder.ts';

/** Null for the bench beside the database. */
export const benchInput = yup.number().integer().positive().nullable().default(null);

/** What a place is described by, whichever way it is reached. */
export const placeFields = {
  benchId: benchInput,
  host: yup.string().trim().max(120, 'Address: at most 120 characters').default(''),
  port: yup
    .number()
    .integer('Port: expected a whole number')
    .typeError('Port: expected a number')
    .nullable()
    .default(null),
  path: yup.string().trim().max(120, 'Serial port: at most 120 characters').default(''),
  baudRate: yup.number().typeError('Speed: expected a number').nullable().default(null),
  /** Its address on a bus; null for the usual one of what it speaks. */
  unit: yup
    .number()
    .typeError('Address on the bus: expected a number')
    .integer('Address on the bus: expected a whole number')
    .min(0, 'Address on the bus: expected 0 to 247')
    .max(247, 'Address on the bus: expected 0 to 247')
    .nullable()
    .default(null),
};

/** Where something is looked for: a bench, and a serial port or an address of it. */
export const placeInput = yup.object({ ...placeFields, way: yup.string().oneOf(['tcp', 'serial']).required() });

type PlaceFields = yup.InferType<typeof placeInput>;

const usualBaud = 115_200;
const usualAskMs = 200;

/**
 * A place as the recorder wants it.
 *
 * @throws {ValidationError} for what is missing
 */
export function placeOf(f: Omit<PlaceFields, 'way' | 'benchId'> & { way: string }): Place {
  const unit = f.unit === null ? {} : { unit: f.unit };
  if (f.way === 'serial') {
    if (!f.path) throw new yup.ValidationError('Serial port: its path, such as /dev/ttyACM0');
    return { kind: 'serial', path: f.path, baudRate: f.baudRate ?? usualBaud, ...unit };
  }
  if (!f.host) throw new yup.ValidationError('Address: name or number of the instrument in the network');
  if (!(f.port !== null && f.port >= 1 && f.port <= 65_535))
    throw new yup.ValidationError('Port: expected a number from 1 to 65535; many supplies listen on 5025');
  return { kind: 'tcp', host: f.host, port: f.port, ...unit };
}

export const loadPlaces = (benchId: number | null): Promise<PlacesHere> => askAt(benchId, '/places', {});

/** What answers at a place; nothing is set. */
export const findAtPlace = (f: PlaceFields): Promise<FoundAt> => askAt(f.benchId, '/find', { place: placeOf(f) });

export const tryInput = placeInput.shape({ dialect: yup.string().max(120).required('Language: choose one') });

export const tryAtPlace = ({ dialect, ...f }: yup.InferType<typeof tryInput>): Promise<Tried> =>
  askAt(f.benchId, '/try', { place: placeOf(f), dialect });

export const listenInput = placeInput.shape({
  seconds: yup.number().min(0.5).max(10).required(),
  /** Bytes in hexadecimal that a meter is asked with; empty where it sends by itself. */
  asks: yup
    .string()
    .trim()
    .matches(/^([0-9a-f]{2}\s*)*$/i, 'Bytes to ask with: expected hexadecimal, such as "AA 01 0D"')
    .default(''),
  everyMs: yup.number().min(5).max(60_000).default(usualAskMs),
});

export const listenAtPlace = ({
  seconds,
  asks,
  everyMs,
  ...f
}: yup.InferType<typeof listenInput>): Promise<Listened> => {
  const request = asks === '' ? null : { bytes: asks, everyMs };
  return askAt(f.benchId, '/listen', { place: placeOf(f), seconds, request });
};

export const guessAtBench = (benchId: number | null, taught: TaughtBytes): Promise<GuessedFields> =>
  askAt(benchId, '/guess', taught);

export const dialectInput = yup.object({
  benchId: benchInput,
  text: yup.string().max(20_000, 'A dialect has at most 20,000 characters').required('The file is empty'),
  replaces: yup.boolean().default(false),
});

/** Keeps a dialect in the folder of a bench. */
export async function keepDialect({
  benchId,
  text,
  replaces,
}: yup.InferType<typeof dialectInput>): Promise<{ id: string; name: string }> {
  const kept = await askAt<{ id: string; name: string }>(benchId, '/dialect', { text, replaces });
  await transaction((q) => addAudit(q, null, 'dialect saved', { dialect: kept.id, bench: benchId }));
  return kept;
}

/** A dialect as a file, for sharing. */
export const dialectText = (benchId: number | null, id: string): Promise<{ text: string }> =>
  askAt(benchId, '/spoken', { id });
