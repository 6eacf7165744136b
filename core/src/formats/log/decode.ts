import { analyse } from 'chardet';

/** How sure the detector must be of an encoding, in per cent, before it counts for more than the usual one. */
const sureFrom = 60;
const usual = 'windows-1252';

/**
 * Tells the encoding of a log from its first bytes: byte-order mark, else the zero bytes of UTF-16, else UTF-8 where
 * it is valid, else what the statistics of its letters say, where they are sure; else Latin-1, read as windows-1252, its
 * superset, as the WHATWG Encoding Standard does.
 *
 * @returns a label that `TextDecoder` knows; null where the bytes are no text at all
 */
export function detectEncoding(head: Uint8Array): string | null {
  if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le';
  if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be';
  const n = Math.min(head.length, 65_536);
  let zerosEven = 0;
  let zerosOdd = 0;
  let control = 0;
  for (let k = 0; k < n; k++) {
    const byte = head[k];
    if (byte === 0) {
      if (k % 2 === 0) zerosEven++;
      else zerosOdd++;
    } else if (byte < 9 || (byte > 13 && byte < 32) || byte === 127) control++;
  }
  if (zerosOdd > 0.3 * n && zerosEven === 0) return 'utf-16le';
  if (zerosEven > 0.3 * n && zerosOdd === 0) return 'utf-16be';
  if (zerosEven + zerosOdd > 0 || control > 0.01 * n + 2) return null;
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(head.subarray(0, n), { stream: true });
    return 'utf-8';
  } catch {
    return byLetters(head.subarray(0, n));
  }
}

/** Digits say nothing: only lines that hold other letters than ASCII are looked at. */
function byLetters(head: Uint8Array): string {
  const telling: number[] = [];
  let line: number[] = [];
  for (const byte of head) {
    line.push(byte);
    if (byte !== 10) continue;
    if (line.some((b) => b > 127)) telling.push(...line);
    line = [];
    if (telling.length > 4096) break;
  }
  // The micro sign of Latin-1 before a unit: no other encoding means it there.
  if (telling.some((byte, k) => byte === 0xb5 && 'AVWs'.includes(String.fromCharCode(telling[k + 1] ?? 0))))
    return usual;
  const [best] = analyse(Uint8Array.from(telling.length > 0 ? telling : line));
  if (!best || best.confidence < sureFrom || best.name.startsWith('ISO-8859-1')) return usual;
  try {
    return new TextDecoder(best.name).encoding;
  } catch {
    return usual;
  }
}

const archives: [string, number[]][] = [
  ['a zip archive', [0x50, 0x4b, 0x03, 0x04]],
  ['a gzip archive', [0x1f, 0x8b]],
  ['a 7z archive', [0x37, 0x7a, 0xbc, 0xaf]],
  ['a rar archive', [0x52, 0x61, 0x72, 0x21]],
];

/** What kind of archive the first bytes begin, in words; null where they begin none. */
export function archiveKind(head: Uint8Array): string | null {
  return archives.find(([, magic]) => magic.every((byte, k) => head[k] === byte))?.[0] ?? null;
}

/**
 * One array of all bytes.
 *
 * @param parts in order
 * @param size bytes of all parts together
 */
export function concatBytes(parts: Uint8Array[], size: number): Uint8Array {
  if (parts.length === 1) return parts[0];
  const out = new Uint8Array(size);
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
