import { readInput } from '@umbral/core';
import * as yup from 'yup';
import { instrumentKinds, type InstrumentKind } from '../dialect/dialects.ts';

/** An instrument of this bench, as the database holds it. */
export interface InstrumentSpec {
  key: string;
  name: string;
  kind: InstrumentKind;
  transport:
    | { kind: 'tcp'; host: string; port: number; unit?: number | null }
    /** `unit` is its address where several instruments are on one bus; that of its dialect where left out. */
    | { kind: 'serial'; path: string; baudRate: number; unit?: number | null }
    /** Plugged into the computer of a page, which passes its bytes on. Identifiers of Bluetooth as the instrument has them. */
    | {
        kind: 'browser';
        way: 'serial' | 'hid' | 'bluetooth';
        baudRate?: number | null;
        unit?: number | null;
        service?: string;
        notify?: string;
        write?: string;
      }
    /** At the simulated bench, wherever that listens after this start. */
    | { kind: 'simulated'; which: 'supply' | 'meter' }
    /** A page watches its display with a camera and tells what it reads. */
    | { kind: 'camera' };
  /** Id of the commands or lines that it speaks. */
  dialect: string;
  /** `shown = true * gain + offset`, found by calibrating once. Volts, amperes. */
  calibration: { gainV: number; offsetV: number; gainA: number; offsetA: number };
  /** It is connected to a virtual device, which the interface may work on. */
  simulated: boolean;
}

export const noCalibration: InstrumentSpec['calibration'] = { gainV: 1, offsetV: 0, gainA: 1, offsetA: 0 };

const words = () => yup.string().strict().min(1).max(120).required();
const number = (least: number, most: number) => yup.number().strict().min(least).max(most).required();

const unit = () => yup.number().strict().integer().min(0).max(247).nullable();

/** Of a service or a characteristic of Bluetooth: short, or whole. */
const identifier = () =>
  yup
    .string()
    .strict()
    .matches(/^([0-9a-f]{4}|[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12})?$/i, '${path} must be like "ffe0"');

const transports = {
  tcp: () => ({ host: words(), port: number(1, 65_535).integer(), unit: unit() }),
  serial: () => ({ path: words(), baudRate: number(300, 4_000_000), unit: unit() }),
  camera: () => ({}),
  browser: () => ({
    way: yup.string().oneOf(['serial', 'hid', 'bluetooth']).required(),
    baudRate: yup.number().strict().min(300).max(4_000_000).nullable(),
    unit: unit(),
    service: identifier(),
    notify: identifier(),
    write: identifier(),
  }),
  simulated: () => ({ which: yup.string().oneOf(['supply', 'meter']).required() }),
};

function transportSchemaOf(kind: unknown) {
  const known = typeof kind === 'string' && Object.hasOwn(transports, kind) ? kind : null;
  const keys = known ? transports[known as keyof typeof transports]() : {};
  const kinds = yup.string().oneOf(Object.keys(transports)).required();
  return yup
    .object({ kind: kinds, ...keys })
    .noUnknown(known !== null)
    .strict();
}

/** How a place is described where an instrument is looked for: a serial port, or an address. */
export function placeSchemaOf(given: unknown) {
  const { kind } = (given ?? {}) as { kind?: unknown };
  if (kind === 'serial' || kind === 'tcp') return transportSchemaOf(kind).required();
  return yup.object({ kind: yup.string().oneOf(['serial', 'tcp']).required() }).required();
}

const specSchema = yup
  .object({
    key: words().matches(/^[a-z0-9-]+$/),
    name: words(),
    kind: yup.string().oneOf(instrumentKinds).required(),
    transport: yup.lazy((value: { kind?: unknown } | undefined) => transportSchemaOf(value?.kind)),
    dialect: words(),
    calibration: yup
      .object({
        gainV: number(0.5, 2),
        offsetV: number(-5, 5),
        gainA: number(0.5, 2),
        offsetA: number(-1, 1),
      })
      .default(noCalibration),
    simulated: yup.boolean().default(false),
  })
  .noUnknown()
  .strict();

/**
 * Reads the description of an instrument.
 *
 * @throws {RangeError} with every key that is wrong and what was expected
 */
export function readInstrument(value: unknown): InstrumentSpec {
  try {
    const read = readInput(specSchema, value);
    return specSchema.cast(read) as InstrumentSpec;
  } catch (error) {
    if (error instanceof yup.ValidationError) throw new RangeError(error.errors.join('; '));
    throw error;
  }
}

/** The address of an instrument on its bus; null where it is that of its dialect. */
export function unitOf({ transport }: Pick<InstrumentSpec, 'transport'>): number | null {
  return 'unit' in transport ? (transport.unit ?? null) : null;
}
