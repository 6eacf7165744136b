import { gaussianNoise, seededRandom, type Random } from '@umbral/core';
import {
  bytesOfHex,
  checksumKinds,
  checksumOf,
  checksums,
  fieldOf,
  numberTypes,
  readFrameDialect,
  type FrameDialect,
} from '../dialect/index.ts';
import { frameOf } from '../simulated/index.ts';
import { framesIn, guessFields, guessFraming } from './teach.ts';

/** A format drawn at random, as meters have them: two values, a counter, something that never changes, a checksum. */
function drawn(random: Random): FrameDialect {
  const any = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const order = any(['big', 'little'] as const);
  const start = any(['A5 5A', 'AA', 'FF 55', '01 03', 'FE', 'AB CD 01']);
  const kind = any(checksumKinds.filter((k) => k !== 'none'));
  const end = any(['', '', '0D 0A', '16']);
  const type = any(['u16', 'u24', 'u32'] as const);
  const head = bytesOfHex(start).length + 1;
  const volts = head + Math.floor(random() * 3);
  const amps = volts + numberTypes[type].bytes + Math.floor(random() * 3);
  const fromEnd = bytesOfHex(end).length;
  const size = amps + numberTypes[type].bytes + 1 + Math.floor(random() * 6) + checksums[kind].bytes + fromEnd;
  const [scaleV, scaleA] = type === 'u16' ? [0.01, 0.001] : [any([0.001, 0.0001]), any([0.0001, 0.00001])];
  return readFrameDialect({
    format: 'umbral-frames/1',
    id: 'drawn',
    name: 'Drawn at random',
    start,
    end,
    length: { fixed: size },
    checksum: { kind, from: any([0, head - 1]), fromEnd, order: any(['big', 'little']) },
    fields: {
      volts: { at: volts, type, order, scale: scaleV },
      amps: { at: amps, type, order, scale: scaleA },
    },
    resolutionV: 0.01,
    resolutionA: 0.01,
  });
}

/** A minute of frames of a meter at a port that wakes: volts that step once, a current that never stands still. */
function minuteOf(dialect: FrameDialect, random: Random): { bytes: Uint8Array; size: number } {
  const size = 'fixed' in dialect.length ? dialect.length.fixed : 0;
  const all: number[] = [];
  for (let k = 0; k < 600; k++) {
    const volts = (k < 200 ? 5.08 : 9.12) + 0.01 * gaussianNoise(random);
    const amps = Math.max(0, (k < 200 ? 0.12 : 1.4 + 0.4 * Math.sin(k / 20)) + 0.004 * gaussianNoise(random));
    const count = bytesOfHex(dialect.start).length;
    const frame = frameOf(dialect, { volts, amps, seconds: null }, size, (at) => (at === count ? k & 0xff : 0));
    if (random() < 0.01) frame[Math.floor(random() * size)] ^= 0x20;
    all.push(...frame);
  }
  return { bytes: Uint8Array.from(all), size };
}

/** Whether a format is found from its bytes and three looks at the display: every frame says what the meter meant. */
function isFound(seed: number, knowsPauses: boolean): boolean {
  const random = seededRandom(seed);
  const dialect = drawn(random);
  const { bytes, size } = minuteOf(dialect, random);
  const pauses = knowsPauses ? Array.from({ length: bytes.length / size }, (_, k) => k * size) : [];
  const [guess] = guessFraming(bytes, pauses);
  if (!guess) return false;
  const frames = framesIn(bytes, guess.framing);
  const truth = framesIn(bytes, dialect);
  if (frames.length < 0.97 * truth.length) return false;
  // A look at the display, and the frame that had come by then.
  const looks = [20, 250, 500].map((k) => ({ frame: frames[k], meant: meantBy(bytes, frames[k], dialect) }));
  if (looks.some((l) => l.meant === null)) return false;
  const shownOf = (of: 'volts' | 'amps') =>
    looks.map(({ frame, meant }) => ({ frame, value: (meant?.[of] ?? NaN).toFixed(of === 'volts' ? 2 : 3) }));
  const volts = guessFields(shownOf('volts'), frames, 60)[0];
  const amps = guessFields(shownOf('amps'), frames, 20)[0];
  if (!volts || !amps) return false;
  const said = (v: number, a: number): string => `${v.toFixed(6)} ${a.toFixed(6)}`;
  const meant = new Set(truth.map((f) => said(fieldOf(f, dialect.fields.volts), fieldOf(f, dialect.fields.amps))));
  // A frame whose beginning or end is damaged is none of the meter's; that it is read is no mistake.
  const right = frames.filter((f) => meant.has(said(fieldOf(f, volts), fieldOf(f, amps)))).length;
  return right > 0.97 * frames.length;
}

/** What the meter meant with the frame of its own that a frame which was cut lies in for the most part. */
function meantBy(bytes: Uint8Array, frame: Uint8Array, dialect: FrameDialect): { volts: number; amps: number } | null {
  const size = 'fixed' in dialect.length ? dialect.length.fixed : 0;
  const middle = bytes.findIndex((_, k) => frame.every((b, n) => bytes[k + n] === b)) + Math.floor(frame.length / 2);
  const [own] = framesIn(bytes.subarray(middle - (middle % size), middle - (middle % size) + size), dialect);
  return own ? { volts: fieldOf(own, dialect.fields.volts), amps: fieldOf(own, dialect.fields.amps) } : null;
}

test.each([
  ['with the pauses between frames', true],
  ['from the bytes alone', false],
])('nine of ten formats drawn at random are found, %s and three looks at the display', (_, knowsPauses) => {
  const seeds = Array.from({ length: 60 }, (_x, k) => 100 + k);
  const missed = seeds.filter((seed) => !isFound(seed, knowsPauses));
  expect(missed.length / seeds.length).toBeLessThanOrEqual(0.1);
});

test('frames of several lengths are cut by the byte that says how long each is', () => {
  const random = seededRandom(9);
  const bytes: number[] = [];
  const lengths: number[] = [];
  for (let k = 0; k < 300; k++) {
    const size = [11, 15, 20][Math.floor(random() * 3)];
    const frame = Uint8Array.from({ length: size }, () => Math.floor(random() * 256));
    frame.set([0xa5, 0x5a, size - 4]);
    const { at, expected } = checksumOf(frame, { kind: 'crc16-modbus', from: 2, fromEnd: 0, order: 'little' });
    frame.set([expected & 0xff, expected >> 8], at);
    lengths.push(size);
    bytes.push(...frame);
  }
  const [guess] = guessFraming(Uint8Array.from(bytes));
  expect(guess.framing).toMatchObject({
    start: 'A5 5A',
    length: { at: 2, type: 'u8', plus: 4 },
    checksum: { kind: 'crc16-modbus', order: 'little' },
  });
  expect(framesIn(Uint8Array.from(bytes), guess.framing).map((f) => f.length)).toEqual(lengths);
});

test('noise has no frames, and too little of anything neither', () => {
  const random = seededRandom(3);
  expect(guessFraming(Uint8Array.from({ length: 4000 }, () => Math.floor(random() * 256)))).toEqual([]);
  expect(guessFraming(bytesOfHex('A5 5A 01 02 03 A5 5A 01 02 03'))).toEqual([]);
  expect(guessFraming(new Uint8Array(0))).toEqual([]);
});

test('what was typed that is no number finds nothing', () => {
  expect(guessFields([{ frame: bytesOfHex('A5 01 FB'), value: 'five' }], [], 60)).toEqual([]);
  expect(guessFields([], [], 60)).toEqual([]);
});

test('a comma is a point', () => {
  const [first] = guessFields([{ frame: bytesOfHex('A5 01 FC'), value: '5,08' }], [bytesOfHex('A5 01 FC')], 60);
  expect(first).toMatchObject({ at: 1, type: 'u16', order: 'big', scale: 0.01 });
});
