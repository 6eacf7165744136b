import { type CheckId, patternIds } from '../catalogue/index.ts';
import type { Worlds } from './worlds.ts';

/** The length of the header stands in four bytes before it. */
const lengthBytes = 4;
const floatBytes = 4;

interface Header {
  devices: Worlds['devices'];
  worlds: number;
  /** Ids of the setups and of the checks whose arrays follow, in their order; setups without a feed are left out. */
  setups: string[];
  withoutFeed: string[];
  checks: CheckId[];
}

/** Bytes that a set of worlds is kept as: the length of a header, the header as JSON, and the arrays one after another. */
export function packWorlds(worlds: Worlds): Uint8Array {
  const setups = Object.keys(worlds.patterns).filter((id) => worlds.patterns[id] !== null);
  const checks = Object.keys(worlds.checks) as CheckId[];
  const header: Header = {
    devices: worlds.devices,
    worlds: worlds.device.length,
    setups,
    withoutFeed: Object.keys(worlds.patterns).filter((id) => worlds.patterns[id] === null),
    checks,
  };
  const text = new TextEncoder().encode(JSON.stringify(header));
  const parts = [
    new Uint8Array(Uint32Array.of(text.length).buffer),
    text,
    worlds.device,
    worlds.circuit,
    new Uint8Array(worlds.share.buffer, worlds.share.byteOffset, worlds.share.byteLength),
    ...setups.map((id) => worlds.patterns[id] as Uint8Array),
    ...checks.map((id) => worlds.checks[id] as Uint8Array),
  ];
  const out = new Uint8Array(parts.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/**
 * The worlds in bytes that `packWorlds` made.
 *
 * @throws {RangeError} where the bytes are not of that kind, or were cut off
 */
export function unpackWorlds(bytes: Uint8Array): Worlds {
  const problem = new RangeError('these bytes are not a worlds file, or are incomplete');
  if (bytes.length < lengthBytes) throw problem;
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true);
  let header: Header;
  try {
    header = JSON.parse(new TextDecoder().decode(bytes.subarray(lengthBytes, lengthBytes + length))) as Header;
  } catch {
    throw problem;
  }
  let at = lengthBytes + length;
  const take = (count: number): Uint8Array => {
    if (at + count > bytes.length) throw problem;
    // A copy, also of a Buffer, whose own `slice` is none: numbers of four bytes must stand at a multiple of four.
    return Uint8Array.prototype.slice.call(bytes, at, (at += count));
  };
  const { worlds } = header;
  const [device, circuit] = [take(worlds), take(worlds)];
  const share = new Float32Array(take(floatBytes * worlds).buffer);
  return {
    devices: header.devices,
    device,
    circuit,
    share,
    patterns: Object.fromEntries([
      ...header.setups.map((id) => [id, take(worlds * patternIds.length)] as const),
      ...header.withoutFeed.map((id) => [id, null] as const),
    ]),
    checks: Object.fromEntries(header.checks.map((id) => [id, take(worlds)])),
  };
}
