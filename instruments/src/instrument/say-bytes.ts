import { hexOf } from '../dialect/index.ts';

/** What arrived, for a sentence: as text where it is one, else as hexadecimal digits. */
export function sayBytes(bytes: Uint8Array): string {
  const text = String.fromCharCode(...bytes);
  return /^[ -~\r\n\t]+$/.test(text) ? JSON.stringify(text) : hexOf(bytes);
}
