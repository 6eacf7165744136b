import fc from 'fast-check';
import {
  bytesOfHex,
  checksumKinds,
  checksumOf,
  checksums,
  decoderFor,
  fieldOf,
  FrameCutter,
  numberTypeNames,
  numberTypes,
  readFrameDialect,
  usualFrames,
  type FrameDialect,
} from './index.ts';

const plain = { type: 'u16', scale: 0.01 };
const small = {
  format: 'umbral-frames/1',
  id: 'small',
  name: 'Small frames',
  start: 'AA',
  length: { fixed: 8 },
  checksum: { kind: 'sum8' },
  fields: { volts: { at: 1, ...plain }, amps: { at: 3, ...plain } },
  resolutionV: 0.01,
  resolutionA: 0.01,
};

/** A frame of a dialect around bytes, with its length and checksum put in. */
function framed(dialect: FrameDialect, body: Uint8Array): Uint8Array {
  const { kind, fromEnd, order } = dialect.checksum;
  const sum = checksums[kind].bytes;
  const frame = new Uint8Array(body.length + sum + fromEnd);
  frame.set(body);
  frame.set(bytesOfHex(dialect.start));
  frame.set(bytesOfHex(dialect.end), frame.length - bytesOfHex(dialect.end).length);
  if ('at' in dialect.length) frame[dialect.length.at] = frame.length - dialect.length.plus;
  const { at, expected } = checksumOf(frame, dialect.checksum);
  for (let k = 0; k < sum; k++) {
    const shift = 8 * (order === 'little' ? k : sum - 1 - k);
    frame[at + k] = Math.floor(expected / 2 ** shift) & 0xff;
  }
  const { key } = dialect;
  const stream = bytesOfHex(key?.bytes ?? '00');
  return frame.map((b, k) => (k < (key?.from ?? 0) ? b : b ^ stream[(k - (key?.from ?? 0)) % stream.length]));
}

function cut(dialect: FrameDialect, pieces: Uint8Array[]) {
  const frames: number[][] = [];
  const cutter = new FrameCutter(dialect, (frame) => frames.push([...frame]));
  for (const piece of pieces) cutter.push(piece);
  return { frames, broken: cutter.broken, skipped: cutter.skipped };
}

/** Bytes in pieces that end where chance has it. */
const inPieces = (bytes: Uint8Array, cuts: number[]): Uint8Array[] => {
  const places = [0, ...cuts.map((c) => c % (bytes.length + 1)).sort((a, b) => a - b), bytes.length];
  return places.slice(1).map((end, k) => bytes.subarray(places[k], end));
};

const joined = (pieces: Uint8Array[]): Uint8Array => Uint8Array.from(pieces.flatMap((p) => [...p]));

/** Dialects of every kind of length, checksum, end and key-stream, each with one start that noise rarely has. */
const dialects = fc
  .record({
    kind: fc.constantFrom(...checksumKinds.filter((k) => k !== 'none')),
    order: fc.constantFrom('big', 'little'),
    from: fc.nat(3),
    end: fc.constantFrom('', '0D 0A', '7E'),
    isFixed: fc.boolean(),
    key: fc.constantFrom(null, { bytes: '5A', from: 2 }, { bytes: '11 22 33', from: 3 }),
  })
  .map(({ kind, order, from, end, isFixed, key }) => {
    const fromEnd = bytesOfHex(end).length;
    const whole = 12 + checksums[kind].bytes + fromEnd;
    return readFrameDialect({
      ...small,
      start: 'A5 5A',
      end,
      length: isFixed ? { fixed: whole } : { at: 2, type: 'u8', plus: 3 },
      checksum: { kind, from, fromEnd, order },
      key,
      fields: { volts: { at: 4, ...plain }, amps: { at: 8, ...plain } },
    });
  });
const bodies = fc.array(fc.uint8Array({ minLength: 12, maxLength: 12 }), { minLength: 1, maxLength: 6 });

describe('frames', () => {
  test('are the same however the bytes are cut into pieces', () => {
    fc.assert(
      fc.property(dialects, bodies, fc.array(fc.nat(400), { maxLength: 12 }), (dialect, given, cuts) => {
        const frames = given.map((body) => framed(dialect, body));
        const seen = cut(dialect, inPieces(joined(frames), cuts));
        expect(seen.frames).toHaveLength(frames.length);
        expect(seen).toMatchObject({ broken: 0, skipped: 0 });
      }),
    );
  });

  test('garbage in between costs nothing but itself: every whole frame after it is found', () => {
    const noise = fc.uint8Array({ maxLength: 30 }).map((bytes) => bytes.map((b) => (b === 0xa5 ? 0xa4 : b)));
    fc.assert(
      fc.property(
        dialects,
        fc.array(fc.tuple(noise, fc.uint8Array({ minLength: 12, maxLength: 12 }))),
        (dialect, list) => {
          const pieces = list.flatMap(([garbage, body]) => [garbage, framed(dialect, body)]);
          const seen = cut(dialect, pieces);
          expect(seen.frames).toHaveLength(list.length);
          expect(seen.skipped).toBe(list.reduce((sum, [garbage]) => sum + garbage.length, 0));
        },
      ),
    );
  });

  test('a byte that went wrong is never a value; it is counted, and the next frame is whole', () => {
    const dialect = usualFrames;
    const [body, next] = [Uint8Array.of(0, 0, 0, ...Array.from({ length: 12 }, (_, k) => k)), new Uint8Array(15)];
    const [good, after] = [framed(dialect, body), framed(dialect, next)];
    for (let at = 0; at < good.length; at++)
      for (const bit of [1, 0x10, 0x80]) {
        const bad = good.map((b, k) => (k === at ? b ^ bit : b));
        const seen = cut(dialect, [bad, after, after]);
        expect({ at, bit, frames: seen.frames.filter((f) => `${f}` !== `${[...after]}`) }).toMatchObject({
          frames: [],
        });
        expect(seen.frames.length).toBeGreaterThanOrEqual(1);
        expect(seen.broken + seen.skipped).toBeGreaterThan(0);
      }
  });

  test('whatever comes, nothing is thrown and nothing is kept for ever', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 3000 }), (bytes) => {
        const seen = cut(usualFrames, inPieces(bytes, [10, 400]));
        expect(seen.frames.length * 17).toBeLessThanOrEqual(bytes.length);
      }),
    );
    const cutter = new FrameCutter(readFrameDialect({ ...small, length: { fixed: 500 } }), () => undefined);
    for (let k = 0; k < 100; k++) cutter.push(new Uint8Array(1000).fill(0xaa));
    expect(cutter.broken + cutter.skipped).toBeGreaterThan(90_000);
  });

  test('frames of another kind in between are passed over', () => {
    const dialect = readFrameDialect({ ...small, length: { fixed: 8 }, only: { at: 5, bytes: '01' } });
    const [ours, other] = [1, 2].map((kind) => framed(dialect, Uint8Array.of(0, 1, 2, 3, 4, kind, 0)));
    expect(cut(dialect, [ours, other, ours]).frames).toHaveLength(2);
  });
});

describe('fields', () => {
  test.each([
    ['u8', 'big', '7F', 127],
    ['s8', 'big', 'FF', -1],
    ['u16', 'big', '01 02', 258],
    ['u16', 'little', '01 02', 513],
    ['s16', 'little', 'FE FF', -2],
    ['u24', 'big', '01 00 00', 65_536],
    ['s24', 'little', 'FF FF FF', -1],
    ['u32', 'little', '00 00 00 80', 2_147_483_648],
    ['s32', 'big', 'FF FF FF FF', -1],
    ['f32', 'big', '40 48 F5 C3', 3.1400001],
  ] as const)('%s, %s: %s', (type, order, bytes, value) => {
    const of = { at: 1, type, order, scale: 1, offset: 0, mask: null };
    expect(fieldOf(Uint8Array.of(0, ...bytesOfHex(bytes)), of)).toBeCloseTo(value, 6);
    expect(fieldOf(bytesOfHex(bytes), of)).toBeNaN();
  });

  test('every type has as many bytes as it reads', () => {
    for (const type of numberTypeNames) {
      const bytes = new Uint8Array(numberTypes[type].bytes);
      expect(fieldOf(bytes, { at: 0, type, order: 'big', scale: 1, offset: 0, mask: null })).toBe(0);
    }
  });

  test('scale, offset and the bits of a mask', () => {
    const of = { at: 0, type: 'u16', order: 'big', scale: 0.5, offset: -2, mask: 0x0ff0 } as const;
    expect(fieldOf(bytesOfHex('F1 2F'), of)).toBe(0x12 / 2 - 2);
  });

  test('the check values of the polynomials', () => {
    // "123456789", as catalogues of checksums give it.
    const nine = Uint8Array.from('123456789', (c) => c.charCodeAt(0));
    const of = (kind: (typeof checksumKinds)[number]): number => checksums[kind].of(nine);
    expect([of('crc16-modbus'), of('crc16-ccitt'), of('crc16-xmodem'), of('crc16-kermit')]).toEqual([
      0x4b37, 0x29b1, 0x31c3, 0x2189,
    ]);
    expect([of('crc32'), of('crc8'), of('sum8'), of('xor8')]).toEqual([0xcbf43926, 0xf4, 0xdd, 0x31]);
    expect((of('sum8') + of('sum8-negated')) & 0xff).toBe(0);
  });
});

test('a frame is a measurement of the meter that ships', () => {
  const seen: unknown[] = [];
  const decoder = decoderFor(usualFrames, (values) => seen.push(values));
  const body = Buffer.alloc(15);
  body.writeUInt32LE(1500, 3);
  body.writeUInt32LE(508_800, 7);
  body.writeInt32LE(-1200, 11);
  decoder.push(framed(usualFrames, body));
  expect(seen).toEqual([{ seconds: 1.5, volts: 5.088, amps: -0.012 }]);
  decoder.push(framed(usualFrames, body).map((b, k) => (k === 9 ? b ^ 1 : b)));
  expect(decoder.wrong).toBe(1);
});

test.each([
  [{ length: { fixed: 8, at: 3 } }, 'unspecified keys: at'],
  [{ length: { at: 2, type: 'u64' } }, 'length.type must be one of'],
  [{ checksum: { kind: 'md5' } }, '"md5" is none; expected one of none, sum8'],
  [{ checksum: { kind: 'crc32', from: 6 } }, 'checksum is over 0 bytes'],
  [{ start: '', checksum: { kind: 'none' } }, 'nothing tells where a frame begins'],
  [{ start: 'A' }, 'start must be bytes in hexadecimal'],
  [{ fields: { volts: { at: 1, ...plain }, amps: { at: 2, ...plain } } }, 'overlap at byte 2'],
  [
    { fields: { volts: { at: 1, ...plain }, amps: { at: 7, ...plain } } },
    "fields.amps ends at byte 9, after the frame's 8",
  ],
  [{ fields: { volts: { at: 1, type: 'int', scale: 1 }, amps: { at: 3, ...plain } } }, '"int" is no type'],
  [
    { fields: { volts: { at: 1, type: 'u16', scale: 0 }, amps: { at: 3, ...plain } } },
    'fields.volts.scale must not be 0',
  ],
  [{ request: { bytes: '', everyMs: 100 } }, 'request.bytes'],
  [{ surprise: 1 }, 'unspecified keys: surprise'],
])('%j is refused with its place', (change, message) => {
  expect(() => readFrameDialect({ ...small, ...change })).toThrow(message);
});

test('two fields may be in one number where masks take different bits', () => {
  const shared = { at: 1, type: 'u32', order: 'big' };
  const fields = { volts: { ...shared, mask: 0xffff0000 }, amps: { ...shared, mask: 0xffff } };
  expect(readFrameDialect({ ...small, fields }).fields.amps.mask).toBe(0xffff);
});

describe('twenty-four hours of frames, one in a hundred broken', () => {
  test('nothing is wrong, and nothing is lost but what was broken, which is counted', () => {
    const [rateHz, hours] = [10, 24];
    const count = rateHz * 3600 * hours;
    let [wrong, got, sent, seed] = [0, 0, 0, 7];
    const random = (): number => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647;
    const decoder = decoderFor(usualFrames, ({ volts, seconds }) => {
      got++;
      // The volts of a frame say which one it is.
      if (Math.abs(volts * 1000 - (Math.round((seconds ?? 0) * rateHz) % 20_000)) > 1e-6) wrong++;
    });
    const body = Buffer.alloc(15);
    for (let k = 0; k < count; k++) {
      body.writeUInt32LE((k * 1000) / rateHz, 3);
      body.writeUInt32LE((k % 20_000) * 100, 7);
      const frame = framed(usualFrames, body);
      if (random() < 0.01) frame[Math.floor(random() * frame.length)] ^= 1 << Math.floor(random() * 8);
      else sent++;
      decoder.push(frame);
    }
    expect(wrong).toBe(0);
    // A length that went wrong takes the frame after it along, at most; no more than one in a thousand of all.
    expect(sent - got).toBeLessThanOrEqual(count / 1000);
    expect(got).toBeLessThanOrEqual(sent);
    expect(decoder.wrong).toBeGreaterThan(0.8 * (count - sent));
  });
});
