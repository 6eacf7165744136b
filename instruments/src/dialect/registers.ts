import * as yup from 'yup';
import usual from './data/registers-usual.json';
import { numberAt } from './numbers.ts';
import { dialectId, factor, optional, readWith, step, whole, words } from './schema.ts';

/** How a value stands in registers of sixteen bits; those of two registers with the high word first or last. */
export const registerTypes = {
  u16: { registers: 1 },
  s16: { registers: 1 },
  u32: { registers: 2 },
  s32: { registers: 2 },
  f32: { registers: 2 },
} as const;

export type RegisterType = keyof typeof registerTypes;

/** A value in registers. What is read is multiplied by `scale`: volts, amperes or seconds. */
export interface RegisterValue {
  register: number;
  /** 3 reads holding registers, 4 input registers. */
  function: 3 | 4;
  type: RegisterType;
  /** Which word of two comes first. */
  words: 'high-first' | 'low-first';
  scale: number;
  /** How it is written: 6 for one register, 16 for several; null where it cannot be. */
  write: 6 | 16 | null;
}

/** A switch or a state: one bit of a register, or a coil. */
export interface RegisterBit {
  register: number;
  /** 1 and 2 read coils and discrete inputs, 3 and 4 registers. */
  function: 1 | 2 | 3 | 4;
  /** Of a register, from 0; null where the register is the state as a whole. */
  bit: number | null;
  /** It is true where it stands so, as a number. */
  is: number;
}

/**
 * The registers of an instrument, `umbral-registers/1`: Modbus RTU at a serial port, or Modbus TCP over the network. What it
 * does not have is null. Without an output that can be switched it is a meter.
 */
export interface RegisterDialect {
  format: 'umbral-registers/1';
  id: string;
  name: string;
  /** "rtu" frames with a checksum, "tcp" with a header. Left out: as the port has it. */
  framing: 'rtu' | 'tcp' | null;
  /** The usual address on the bus, and the usual speeds, baud. */
  unit: number;
  bauds: number[];
  volts: RegisterValue;
  amps: RegisterValue;
  setVolts: RegisterValue | null;
  setLimit: RegisterValue | null;
  output: RegisterBit | null;
  /** It holds its voltage; it holds its current. */
  constantVolts: RegisterBit | null;
  constantAmps: RegisterBit | null;
  overVolts: RegisterValue | null;
  overAmps: RegisterValue | null;
  watchdog: RegisterValue | null;
  /** A register that says what it is, for finding it. */
  identify: RegisterBit | null;
  /** Registers that may be read along between two that are wanted, so that one request is enough. */
  maxGap: number;
  /** How often it is asked, a second. */
  rateHz: number;
  resolutionV: number;
  resolutionA: number;
}

const highest = 65_535;

const value = () =>
  yup
    .object({
      register: whole(0, highest).required(),
      function: yup.number().strict().oneOf([3, 4]).default(3),
      type: yup
        .string()
        .oneOf(Object.keys(registerTypes), '${path}: "${value}" is no type; expected one of ${values}')
        .default('u16'),
      words: yup.string().oneOf(['high-first', 'low-first']).default('high-first'),
      scale: factor().default(1),
      write: optional(yup.number().strict().oneOf([6, 16])),
    })
    .noUnknown()
    .strict();

const bit = () =>
  yup
    .object({
      register: whole(0, highest).required(),
      function: yup.number().strict().oneOf([1, 2, 3, 4]).default(3),
      bit: optional(whole(0, 15)),
      is: whole(0, highest).default(1),
    })
    .noUnknown()
    .strict();

const schema = yup
  .object({
    format: yup.string().oneOf(['umbral-registers/1']).required(),
    id: dialectId(),
    name: words(),
    framing: optional(yup.string().oneOf(['rtu', 'tcp'])),
    unit: whole(0, 247).default(1),
    bauds: yup.array(whole(300, 4_000_000).required()).max(10).default([9600, 115_200]),
    volts: value().required(),
    amps: value().required(),
    setVolts: optional(value()),
    setLimit: optional(value()),
    output: optional(bit()),
    constantVolts: optional(bit()),
    constantAmps: optional(bit()),
    overVolts: optional(value()),
    overAmps: optional(value()),
    watchdog: optional(value()),
    identify: optional(bit()),
    maxGap: whole(0, 100).default(0),
    rateHz: yup.number().strict().positive().max(200).default(20),
    resolutionV: step(),
    resolutionA: step(),
  })
  .noUnknown()
  .strict();

/** Values that are written. */
const written = ['setVolts', 'setLimit', 'overVolts', 'overAmps', 'watchdog'] as const;

/**
 * Reads the registers of an instrument.
 *
 * @param given of a JSON file
 * @throws {RangeError} with every key that is wrong and what was expected
 */
export function readRegisterDialect(given: unknown): RegisterDialect {
  const read = readWith<RegisterDialect>(schema, given, 'registers');
  const wrong: string[] = [];
  for (const key of written) {
    const of = read[key];
    if (!of) continue;
    if (of.function === 4) wrong.push(`${key} is an input register (function 4), which cannot be written`);
    // One register is written with 6 unless the file says 16; a value of two registers goes in one request.
    of.write ??= registerTypes[of.type].registers > 1 ? 16 : 6;
    if (of.write === 6 && registerTypes[of.type].registers > 1)
      wrong.push(`${key}.write is 6, which writes one register; ${of.type} needs 16`);
  }
  if (read.output && [2, 4].includes(read.output.function))
    wrong.push(`output is read with function ${read.output.function}, which cannot be written`);
  const switched = [read.output, read.setVolts, read.setLimit];
  if (switched.some(Boolean) && !switched.every(Boolean))
    wrong.push('output, setVolts and setLimit are needed together: a supply has all three, a meter none');
  for (const [a, b] of pairsOf(read))
    if (overlap(a.of, b.of)) wrong.push(`${a.key} and ${b.key} overlap at register ${b.of.register}`);
  if (wrong.length > 0) throw new RangeError(`registers: ${wrong.join('; ')}`);
  return read;
}

/** Whether an instrument of these registers is a supply. */
export const isRegisterSupply = (dialect: RegisterDialect): boolean => dialect.output !== null;

type Named = { key: string; of: RegisterValue };

function pairsOf(read: RegisterDialect): [Named, Named][] {
  const all = (['volts', 'amps', ...written] as const).flatMap((key): Named[] => {
    const of = read[key];
    return of ? [{ key, of }] : [];
  });
  return all.flatMap((a, k) => all.slice(k + 1).map((b): [Named, Named] => [a, b]));
}

function overlap(a: RegisterValue, b: RegisterValue): boolean {
  const end = ({ register, type }: RegisterValue): number => register + registerTypes[type].registers;
  return a.function === b.function && a.register < end(b) && b.register < end(a);
}

/** The words of registers as the value that they hold, in volts, amperes or seconds. */
export function valueIn(registers: readonly number[], { type, words: order, scale }: RegisterValue): number {
  const inOrder = order === 'high-first' ? registers : [...registers].reverse();
  const bytes = Uint8Array.from(inOrder.flatMap((word) => [word >> 8, word & 0xff]));
  return scaled(numberAt(bytes, 0, type, 'big'), scale);
}

/**
 * A value as the words of its registers.
 *
 * @returns null for what does not fit
 */
export function registersFor(x: number, { type, words: order, scale }: RegisterValue): number[] | null {
  const view = new DataView(new ArrayBuffer(4));
  const raw = Math.round(x / scale);
  if (type === 'u16' || type === 's16') {
    const fits = type === 'u16' ? raw >= 0 && raw <= highest : raw >= -32_768 && raw <= 32_767;
    return fits ? [raw & highest] : null;
  }
  if (type === 'f32') view.setFloat32(0, x / scale);
  else if (type === 'u32' ? raw >= 0 && raw <= 0xff_ff_ff_ff : Math.abs(raw) <= 0x7f_ff_ff_ff) view.setInt32(0, raw);
  else return null;
  const two = [view.getUint16(0), view.getUint16(2)];
  return order === 'high-first' ? two : two.reverse();
}

/** Without the tail that a factor such as 0.01 leaves. */
const scaled = (raw: number, scale: number): number => Number((raw * scale).toPrecision(12));

/** The registers of the supply that ships: hundredths of a volt, thousandths of an ampere. */
export const usualRegisters = readRegisterDialect(usual);
