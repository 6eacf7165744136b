import crc16ccitt from 'crc/calculators/crc16ccitt';
import crc16kermit from 'crc/calculators/crc16kermit';
import crc16modbus from 'crc/calculators/crc16modbus';
import crc16xmodem from 'crc/calculators/crc16xmodem';
import crc32 from 'crc/calculators/crc32';
import crc8 from 'crc/calculators/crc8';
import * as yup from 'yup';
import usual from './data/frames-usual.json';
import { numberAt, numberTypeNames, numberTypes, type ByteOrder, type NumberType } from './numbers.ts';
import { bytesOfHex, dialectId, factor, hex, optional, readWith, step, whole, words } from './schema.ts';

/** How a frame proves that it is whole. Each takes bytes and gives a number of `bytes` bytes. */
export const checksums = {
  none: { bytes: 0, of: () => 0 },
  sum8: { bytes: 1, of: (b: Uint8Array) => b.reduce((sum, x) => (sum + x) & 0xff, 0) },
  'sum8-negated': { bytes: 1, of: (b: Uint8Array) => -b.reduce((sum, x) => sum + x, 0) & 0xff },
  sum16: { bytes: 2, of: (b: Uint8Array) => b.reduce((sum, x) => (sum + x) & 0xffff, 0) },
  xor8: { bytes: 1, of: (b: Uint8Array) => b.reduce((all, x) => all ^ x, 0) },
  crc8: { bytes: 1, of: (b: Uint8Array) => crc8(b) },
  'crc16-modbus': { bytes: 2, of: (b: Uint8Array) => crc16modbus(b) },
  'crc16-ccitt': { bytes: 2, of: (b: Uint8Array) => crc16ccitt(b) },
  'crc16-xmodem': { bytes: 2, of: (b: Uint8Array) => crc16xmodem(b) },
  'crc16-kermit': { bytes: 2, of: (b: Uint8Array) => crc16kermit(b) },
  crc32: { bytes: 4, of: (b: Uint8Array) => crc32(b) >>> 0 },
} as const;

type ChecksumKind = keyof typeof checksums;
export const checksumKinds = Object.keys(checksums) as ChecksumKind[];

/** A number in a frame. `(number & mask, moved down to its lowest bit) * scale + offset`, in volts, amperes, ohm or seconds. */
export interface FrameField {
  /** Its first byte, counted from the first of the frame. */
  at: number;
  type: NumberType;
  order: ByteOrder;
  scale: number;
  offset: number;
  mask: number | null;
}

/** How what arrives is cut into frames. Bytes are written as hexadecimal digits. */
export interface Framing {
  /** Bytes that every frame begins with, and ends with; empty for none. */
  start: string;
  end: string;
  /** Bytes of a whole frame: always so many, or a number in it that `plus` more bytes go with; never more than `most`. */
  length: { fixed: number } | { at: number; type: 'u8' | 'u16'; order: ByteOrder; plus: number; most: number };
  /** Over the bytes from `from` up to where it stands itself; `fromEnd` bytes follow its last one. */
  checksum: { kind: ChecksumKind; from: number; fromEnd: number; order: ByteOrder };
  /** Bytes that are laid over the frame (exclusive or) from a byte on, again and again; null for none. */
  key: { bytes: string; from: number } | null;
  /** Frames of other kinds come in between: only those are read that have these bytes there. */
  only: { at: number; bytes: string } | null;
}

/**
 * Binary frames that a meter sends, `umbral-frames/1`, over whatever it is connected by: a serial port, a socket, reports of
 * HID, values of Bluetooth.
 */
export interface FrameDialect extends Framing {
  format: 'umbral-frames/1';
  id: string;
  name: string;
  bauds: number[];
  fields: { volts: FrameField; amps: FrameField; seconds: FrameField | null };
  /** Asked for with these bytes, so often; null where it sends by itself. */
  request: { bytes: string; everyMs: number } | null;
  /** Where it sends no time of its own: how many frames a second, or null for the time of arrival. */
  rateHz: number | null;
  resolutionV: number;
  resolutionA: number;
}

const mostBytes = 512;
/** Meters send short frames; a length that went wrong is not waited for. */
const usualMost = 64;
export const framePlace = () => whole(0, mostBytes - 1);
const order = () => yup.string().oneOf(['big', 'little']).default('big');
const type = () =>
  yup.string().oneOf(numberTypeNames, '${path}: "${value}" is no type; expected one of ${values}').required();

export const frameField = () =>
  yup
    .object({
      at: framePlace().required(),
      type: type(),
      order: order(),
      scale: factor().default(1),
      offset: yup.number().strict().default(0),
      mask: optional(whole(1, 0xff_ff_ff_ff)),
    })
    .noUnknown()
    .strict();

const lengthSchema = yup.lazy((given: { fixed?: unknown } | undefined) =>
  given && 'fixed' in given
    ? yup
        .object({ fixed: whole(2, mostBytes).required() })
        .noUnknown()
        .strict()
    : yup
        .object({
          at: framePlace().required(),
          type: yup.string().oneOf(['u8', 'u16']).default('u8'),
          order: order(),
          plus: whole(-mostBytes, mostBytes).default(0),
          most: whole(2, mostBytes).default(usualMost),
        })
        .noUnknown()
        .strict()
        .required(),
);

/** What a file says about the cutting of frames. */
export const framingShape = {
  start: hex(16).default(''),
  end: hex(16).default(''),
  length: lengthSchema,
  checksum: yup
    .object({
      kind: yup.string().oneOf(checksumKinds, '${path}: "${value}" is none; expected one of ${values}').default('none'),
      from: framePlace().default(0),
      fromEnd: whole(0, 16).default(0),
      order: order(),
    })
    .noUnknown()
    .strict()
    .default({ kind: 'none', from: 0, fromEnd: 0, order: 'big' }),
  key: optional(
    yup
      .object({ bytes: hex().min(2).required(), from: framePlace().default(0) })
      .noUnknown()
      .strict(),
  ),
  only: optional(
    yup
      .object({ at: framePlace().required(), bytes: hex(16).min(2).required() })
      .noUnknown()
      .strict(),
  ),
};

/** Bytes that a meter is asked with, and how often. */
export const byteRequest = () =>
  optional(
    yup
      .object({ bytes: hex().min(2).required(), everyMs: whole(5, 60_000).required() })
      .noUnknown()
      .strict(),
  );

const schema = yup
  .object({
    format: yup.string().oneOf(['umbral-frames/1']).required(),
    id: dialectId(),
    name: words(),
    bauds: yup.array(whole(300, 4_000_000).required()).max(10).default([115_200, 9600]),
    ...framingShape,
    fields: yup
      .object({ volts: frameField().required(), amps: frameField().required(), seconds: optional(frameField()) })
      .noUnknown()
      .required(),
    request: byteRequest(),
    rateHz: optional(yup.number().strict().positive().max(100_000)),
    resolutionV: step(),
    resolutionA: step(),
  })
  .noUnknown()
  .strict();

/** How many bytes of a frame are surely there; null where its length is sent. */
const sureLength = ({ length }: Framing): number | null => ('fixed' in length ? length.fixed : null);

/**
 * What is wrong with how frames are cut, beyond single keys.
 *
 * @param places what is read in a frame: the first byte and how many
 */
export function framingProblems(framing: Framing, places: Record<string, { at: number; bytes: number }>): string[] {
  const { start, end, checksum } = framing;
  const { kind, from, fromEnd } = checksum;
  const wrong: string[] = [];
  if (start === '' && end === '' && kind === 'none')
    wrong.push('start, end or checksum is needed, or nothing tells where a frame begins');
  const size = sureLength(framing);
  if (size === null) return wrong;
  const over = size - fromEnd - checksums[kind].bytes - from;
  if (kind !== 'none' && over < 1) wrong.push(`checksum is over ${Math.max(0, over)} bytes; expected at least 1`);
  for (const [name, { at, bytes }] of Object.entries(places))
    if (at + bytes > size) wrong.push(`${name} ends at byte ${at + bytes}, after the frame's ${size}`);
  return wrong;
}

/**
 * Reads how a meter frames its values.
 *
 * @param given of a JSON file
 * @throws {RangeError} with every key that is wrong and what was expected
 */
export function readFrameDialect(given: unknown): FrameDialect {
  const read = readWith<FrameDialect>(schema, given, 'frames');
  const fields = Object.entries(read.fields).filter((x): x is [string, FrameField] => x[1] !== null);
  const places = fields.map(([name, f]) => [`fields.${name}`, { at: f.at, bytes: numberTypes[f.type].bytes }] as const);
  const wrong = framingProblems(read, Object.fromEntries(places));
  for (const [k, [nameA, a]] of fields.entries())
    for (const [nameB, b] of fields.slice(k + 1))
      if (overlaps(a, b)) wrong.push(`fields.${nameA} and fields.${nameB} overlap at byte ${Math.max(a.at, b.at)}`);
  if (wrong.length > 0) throw new RangeError(`frames: ${wrong.join('; ')}`);
  return read;
}

/** Two fields may share bytes where masks take different bits of them. */
function overlaps(a: FrameField, b: FrameField): boolean {
  const apart = a.at + numberTypes[a.type].bytes <= b.at || b.at + numberTypes[b.type].bytes <= a.at;
  if (apart) return false;
  const sameBytes = a.at === b.at && a.type === b.type && a.order === b.order;
  return !(sameBytes && a.mask !== null && b.mask !== null && (a.mask & b.mask) === 0);
}

/** What a frame says. Volts, amperes, seconds of the meter's own clock. */
interface FramedValues {
  volts: number;
  amps: number;
  seconds: number | null;
}

/** The value of a field of a whole frame; NaN where the frame ends before it. */
export function fieldOf(frame: Uint8Array, { at, type: of, order: by, scale, offset, mask }: FrameField): number {
  const raw = numberAt(frame, at, of, by);
  const masked = mask === null ? raw : ((raw & mask) >>> 0) / (mask & -mask);
  return Number((masked * scale + offset).toPrecision(shownDigits));
}

/** More than any meter has, and without the tail that a factor such as 0.01 leaves. */
const shownDigits = 12;

/** Where a checksum of a frame stands, what it is, and what it would have to be. */
export function checksumOf(frame: Uint8Array, { kind, from, fromEnd, order: by }: Framing['checksum']) {
  const { bytes, of } = checksums[kind];
  const at = frame.length - fromEnd - bytes;
  const shown = [...frame.subarray(at, at + bytes)];
  const is = (by === 'little' ? shown.reverse() : shown).reduce((all, b) => all * 256 + b, 0);
  return { at, is, expected: of(frame.subarray(from, at)) };
}

/** Bytes that are kept while no frame is found in them. */
const mostKept = 4 * mostBytes;

/**
 * Cuts frames out of what arrives, in whatever pieces it arrives. After garbage, or a frame that is not whole, the next
 * beginning is looked for from the byte after; what was no frame is counted.
 */
export class FrameCutter {
  private kept = new Uint8Array(0);
  private readonly most: number;
  private readonly start: Uint8Array;
  private readonly end: Uint8Array;
  private readonly key: Uint8Array | null;
  private readonly only: Uint8Array | null;
  /** Beginnings that were followed by no whole frame. */
  broken = 0;
  /** Bytes that belonged to no frame. */
  skipped = 0;

  constructor(
    private readonly dialect: Framing,
    private readonly onFrame: (frame: Uint8Array) => void,
  ) {
    this.most = 'fixed' in dialect.length ? dialect.length.fixed : dialect.length.most;
    this.start = bytesOfHex(dialect.start);
    this.end = bytesOfHex(dialect.end);
    this.key = dialect.key && bytesOfHex(dialect.key.bytes);
    this.only = dialect.only && bytesOfHex(dialect.only.bytes);
  }

  /** Something was left out here: what was kept does not go on. */
  skip(): void {
    this.skipped += this.kept.length;
    this.kept = new Uint8Array(0);
  }

  push(piece: Uint8Array): void {
    const bytes = new Uint8Array(this.kept.length + piece.length);
    bytes.set(this.kept);
    bytes.set(piece, this.kept.length);
    let at = 0;
    while (at < bytes.length) {
      const frame = this.frameAt(bytes, at);
      if (frame === 'more') break;
      if (frame === 'none') {
        at++;
        this.skipped++;
        continue;
      }
      at += frame.length;
      if (this.isWanted(frame)) this.onFrame(frame);
    }
    // What never becomes a frame is not kept for ever.
    const from = Math.max(at, bytes.length - mostKept);
    this.skipped += from - at;
    this.kept = bytes.slice(from);
  }

  /** The frame that begins at a byte, in the clear; "more" where it may still become one. */
  private frameAt(bytes: Uint8Array, at: number): Uint8Array | 'more' | 'none' {
    const { start, end } = this;
    const left = bytes.length - at;
    for (let k = 0; k < Math.min(start.length, left); k++) if (bytes[at + k] !== start[k]) return 'none';
    if (left < Math.max(1, start.length)) return 'more';
    const length = this.lengthAt(bytes, at);
    if (length === 'more') return 'more';
    const least = Math.max(2, start.length + end.length);
    if (length < least || length > this.most) return this.isBroken();
    if (left < length) return 'more';
    const frame = this.inClear(bytes.slice(at, at + length));
    for (const [k, byte] of end.entries()) if (frame[length - end.length + k] !== byte) return this.isBroken();
    if (this.dialect.checksum.kind === 'none') return frame;
    const { at: stands, is, expected } = checksumOf(frame, this.dialect.checksum);
    return stands > 0 && is === expected ? frame : this.isBroken();
  }

  private isBroken(): 'none' {
    // Without bytes to begin with, every byte is tried as a beginning, and says nothing when it is none.
    if (this.start.length > 0) this.broken++;
    return 'none';
  }

  private lengthAt(bytes: Uint8Array, from: number): number | 'more' {
    const { length, key } = this.dialect;
    if ('fixed' in length) return length.fixed;
    const needed = length.at + (length.type === 'u8' ? 1 : 2);
    if (bytes.length - from < needed) return 'more';
    const head = bytes.slice(from, from + needed);
    return numberAt(key ? this.inClear(head) : head, length.at, length.type, length.order) + length.plus;
  }

  private inClear(frame: Uint8Array): Uint8Array {
    const { key } = this;
    if (key === null) return frame;
    const from = this.dialect.key?.from ?? 0;
    return frame.map((byte, k) => (k < from ? byte : byte ^ key[(k - from) % key.length]));
  }

  private isWanted(frame: Uint8Array): boolean {
    const at = this.dialect.only?.at ?? 0;
    return this.only === null || this.only.every((byte, k) => frame[at + k] === byte);
  }
}

/**
 * Makes a reader for the frames of one meter.
 *
 * @returns null for a frame without a voltage and a current
 */
export function frameReader({ fields }: FrameDialect): (frame: Uint8Array) => FramedValues | null {
  return (frame) => {
    const [volts, amps] = [fieldOf(frame, fields.volts), fieldOf(frame, fields.amps)];
    const seconds = fields.seconds && fieldOf(frame, fields.seconds);
    if (!Number.isFinite(volts) || !Number.isFinite(amps)) return null;
    return { volts, amps, seconds: seconds === null || Number.isNaN(seconds) ? null : seconds };
  };
}

/** The frames of the meter that ships. */
export const usualFrames = readFrameDialect(usual);
