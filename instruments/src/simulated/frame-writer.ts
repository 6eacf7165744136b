import {
  bytesOfHex,
  checksumOf,
  checksums,
  numberTypes,
  type FrameDialect,
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
  const write = (at: number, bytes: number, order: string, value: number): void => {
    for (let k = 0; k < bytes; k++) {
      const shift = 256 ** (order === 'little' ? k : bytes - 1 - k);
      frame[at + k] = Math.floor((value < 0 ? value + 256 ** bytes : value) / shift) & 0xff;
    }
  };
  const start = bytesOfHex(dialect.start);
  const end = bytesOfHex(dialect.end);
  frame.set(start);
  frame.set(end, size - end.length);
  const { length, fields, checksum } = dialect;
  if ('at' in length) write(length.at, numberTypes[length.type].bytes, length.order, size - length.plus);
  for (const [field, value] of [
    [fields.volts, volts],
    [fields.amps, amps],
    [fields.seconds, seconds],
  ] as const)
    if (field && value !== null)
      write(
        field.at,
        numberTypes[field.type].bytes,
        field.order,
        Math.round(Number(((value - field.offset) / field.scale).toPrecision(12))),
      );
  const { at, expected } = checksumOf(frame, checksum);
  write(at, checksums[checksum.kind].bytes, checksum.order, expected);
  const key = dialect.key && bytesOfHex(dialect.key.bytes);
  const from = dialect.key?.from ?? 0;
  return key ? frame.map((b, k) => (k < from ? b : b ^ key[(k - from) % key.length])) : frame;
}
