export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/**
 * Tells the encoding of a log from its first bytes: byte-order mark, else the zero bytes of UTF-16, else UTF-8 where
 * it is valid, else Latin-1 (read as windows-1252, its superset, as the WHATWG Encoding Standard does).
 *
 * @returns null where the bytes are no text at all
 */
export function detectEncoding(head: Uint8Array): Encoding | null {
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
    return 'windows-1252';
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
