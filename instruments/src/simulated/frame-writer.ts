import {
  bytesOfHex,
  checksumOf,
  checksums,
  numberTypes,
  type FrameDialect,
  type Framing,
  type MeterValues,
} from '../dialect/index.ts';

/**
 * A frame as a meter of a dialect would send it.
 *
 * @param size bytes of a whole frame
 * @param fill what stands in bytes that mean nothing, by their place
 */
export function frameOf(
  dialect: FrameDialect,
  { volts, amps, seconds }: MeterValues,
  size: number,
  fill: (at: number) => number = () => 0,
): Uint8Array {
  const frame = Uint8Array.from({ length: size }, (_, at) => fill(at));
  const { fields } = dialect;
  for (const [field, value] of [
    [fields.volts, volts],
    [fields.amps, amps],
    [fields.seconds, seconds],
  ] as const) {
    if (!field || value === null) continue;
    const count = Math.round(Number(((value - field.offset) / field.scale).toPrecision(12)));
    write(frame, field.at, numberTypes[field.type].bytes, field.order, count);
  }
  return sealed(dialect, frame);
}

/** A frame with all that makes it one around its values: beginning, end, length, checksum, key. */
export function sealed(framing: Framing, values: Uint8Array): Uint8Array {
  const frame = values.slice();
  const { length, checksum } = framing;
  const end = bytesOfHex(framing.end);
  frame.set(bytesOfHex(framing.start));
  frame.set(end, frame.length - end.length);
  if ('at' in length) write(frame, length.at, numberTypes[length.type].bytes, length.order, frame.length - length.plus);
  const { at, expected } = checksumOf(frame, checksum);
  write(frame, at, checksums[checksum.kind].bytes, checksum.order, expected);
  const key = framing.key && bytesOfHex(framing.key.bytes);
  const from = framing.key?.from ?? 0;
  return key ? frame.map((b, k) => (k < from ? b : b ^ key[(k - from) % key.length])) : frame;
}

function write(frame: Uint8Array, at: number, bytes: number, order: string, value: number): void {
  for (let k = 0; k < bytes; k++) {
    const shift = 256 ** (order === 'little' ? k : bytes - 1 - k);
    frame[at + k] = Math.floor((value < 0 ? value + 256 ** bytes : value) / shift) & 0xff;
  }
}
