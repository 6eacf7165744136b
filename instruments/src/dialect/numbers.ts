/** How a number stands in bytes. Those of one byte have no order. */
export const numberTypes = {
  u8: { bytes: 1, read: (v: DataView) => v.getUint8(0) },
  s8: { bytes: 1, read: (v: DataView) => v.getInt8(0) },
  u16: { bytes: 2, read: (v: DataView, little: boolean) => v.getUint16(0, little) },
  s16: { bytes: 2, read: (v: DataView, little: boolean) => v.getInt16(0, little) },
  u24: { bytes: 3, read: (v: DataView, little: boolean) => threeBytes(v, little) },
  s24: { bytes: 3, read: (v: DataView, little: boolean) => (threeBytes(v, little) << 8) >> 8 },
  u32: { bytes: 4, read: (v: DataView, little: boolean) => v.getUint32(0, little) },
  s32: { bytes: 4, read: (v: DataView, little: boolean) => v.getInt32(0, little) },
  f32: { bytes: 4, read: (v: DataView, little: boolean) => v.getFloat32(0, little) },
} as const;

export type NumberType = keyof typeof numberTypes;
export type ByteOrder = 'big' | 'little';

export const numberTypeNames = Object.keys(numberTypes) as NumberType[];

function threeBytes(view: DataView, little: boolean): number {
  const [a, b, c] = [view.getUint8(0), view.getUint8(1), view.getUint8(2)];
  return little ? a | (b << 8) | (c << 16) : (a << 16) | (b << 8) | c;
}

/**
 * A number out of bytes.
 *
 * @param at its first byte, from 0
 * @returns NaN where the bytes end before it does
 */
export function numberAt(bytes: Uint8Array, at: number, type: NumberType, order: ByteOrder): number {
  const { bytes: width, read } = numberTypes[type];
  if (at < 0 || at + width > bytes.length) return NaN;
  return read(new DataView(bytes.buffer, bytes.byteOffset + at, width), order === 'little');
}
