export * from './dialects.ts';
export * from './scpi.ts';
export * from './line-stream.ts';
export * from './registers.ts';
export * from './frames.ts';
export * from './readings.ts';
export { numberTypeNames, numberTypes, type ByteOrder, type NumberType } from './numbers.ts';
export { bytesOfHex, hexOf } from './schema.ts';
export { decoderFor, type Decoder, type MeterValues } from './decoder.ts';
