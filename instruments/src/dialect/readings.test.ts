import fc from 'fast-check';
import {
  bytesOfHex,
  decoderFor,
  framedReadings,
  readingReader,
  readReadingDialect,
  usualReadings,
  type MeterReading,
} from './index.ts';
import { sealed } from '../simulated/frame-writer.ts';
import { ShownReading } from '../recorder/shown-reading.ts';

const read = readingReader(usualReadings);

test.each([
  ['DCV 3.302 V', { mode: 'voltage', value: 3.302, ol: false, beeps: false, step: 0.001 }],
  ['DCV -12.5 mV', { mode: 'voltage', value: -0.0125, ol: false, beeps: false, step: 0.0001 }],
  ['OHM 4.700 kohm', { mode: 'resistance', value: 4700, ol: false, beeps: false, step: 1 }],
  ['OHM OL', { mode: 'resistance', value: null, ol: true, beeps: false, step: null }],
  ['DIODE 0.412 V', { mode: 'diode', value: 0.412, ol: false, beeps: false, step: 0.001 }],
  ['CONT 2.1 ohm', { mode: 'continuity', value: 2.1, ol: false, beeps: true, step: 0.1 }],
])('%s', (line, reading) => expect(read(line)).toEqual(reading));

test.each(['', 'DCV', 'CAP 12 nF', 'DCV 3.3 furlong', 'DCV 3..3 V', 'DCV 0x10 V', 'constructor 1 V', '\u0000'])(
  '%p is no reading of volts or ohm',
  (line) => expect(read(line)).toBeNull(),
);

test('whatever comes, reading never throws', () => {
  fc.assert(fc.property(fc.string({ maxLength: 60 }), (line) => void read(line)));
});

test('lines in pieces are readings in order; what is none is counted', () => {
  const seen: MeterReading[] = [];
  const decoder = decoderFor(
    usualReadings,
    () => undefined,
    (r) => seen.push(r),
  );
  for (const piece of ['DCV 1.', '80 V\r\nnoise\r\nOHM ', 'OL\r\n'])
    decoder.push(Uint8Array.from(piece, (c) => c.charCodeAt(0)));
  expect(seen.map((r) => [r.mode, r.value])).toEqual([
    ['voltage', 1.8],
    ['resistance', null],
  ]);
  expect(decoder.wrong).toBe(1);
});

test.each([
  [{ pattern: '(' }, 'pattern is no pattern'],
  [{ pattern: '(?<value>1)' }, 'pattern has no group named "unit"'],
  [{ pattern: '(?!1)(?<value>1)(?<unit>V)' }, 'cannot be matched in bounded time'],
  [{ modes: { DCV: 'amps' } }, 'modes.DCV must be one of'],
  [{ units: { V: 0 } }, 'units.V must not be 0'],
  [{ overload: [] }, 'overload'],
])('%j is refused with its place', (change, message) => {
  expect(() => readReadingDialect({ ...usualReadings, ...change })).toThrow(message);
});

describe('binary frames', () => {
  /** Mode, range, five digits, flags. */
  const frame = (body: string): Uint8Array =>
    sealed(framedReadings.frame, Uint8Array.of(0, 0, 0, ...bytesOfHex(body), 0, 0));
  const readAll = (...pieces: Uint8Array[]) => {
    const seen: MeterReading[] = [];
    const decoder = decoderFor(
      framedReadings,
      () => undefined,
      (r) => seen.push(r),
    );
    for (const piece of pieces) decoder.push(piece);
    return { seen, wrong: decoder.wrong };
  };

  test.each([
    ['the range says where the point is', '01 00 01 02 03 04 05 00', { mode: 'voltage', value: 1.2345, step: 0.0001 }],
    ['another range of the same mode', '01 02 01 02 03 04 05 00', { value: 123.45, step: 0.01 }],
    ['a sign', '01 01 00 03 03 00 02 01', { value: -3.302 }],
    ['digits may be characters', '01 01 30 33 33 30 32 00', { value: 3.302 }],
    ['bits beside the range mean nothing', '01 F1 00 03 03 00 02 00', { value: 3.302 }],
    ['an open line', '03 00 00 00 00 00 00 02', { mode: 'resistance', value: null, ol: true, step: null }],
    ['a mode with one range, and a beep', '04 07 00 00 02 01 00 00', { mode: 'continuity', value: 2.1, beeps: true }],
  ])('%s', (_, body, reading) => expect(readAll(frame(body)).seen).toMatchObject([reading]));

  test.each([
    ['a mode that is not described', '09 00 01 02 03 04 05 00'],
    ['a range that is not described', '01 0E 01 02 03 04 05 00'],
    ['a digit that is none', '01 00 01 02 0C 04 05 00'],
  ])('%s is no reading, and counted', (_, body) => expect(readAll(frame(body))).toEqual({ seen: [], wrong: 1 }));

  test('whatever value a range has room for is read as it was sent', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 99_999 }), fc.boolean(), (count, isNegative) => {
        const digits = [...String(count).padStart(5, '0')].join(' 0');
        const [{ value }] = readAll(frame(`01 01 0${digits} 0${isNegative ? 1 : 0}`)).seen;
        expect(value).toBeCloseTo((isNegative ? -count : count) / 1000, 9);
      }),
    );
  });

  test.each([
    [{ frame: { ...framedReadings.frame, length: { fixed: 9 } } }, 'value ends at byte 10'],
    [{ frame: { start: '', end: '', length: { fixed: 13 } } }, 'start, end or checksum is needed'],
    [{ modes: { v: { is: 'voltage', steps: 0.1 } } }, 'modes.v: expected the bits as two hexadecimal digits'],
    [{ modes: { '01': { is: 'amps', steps: 0.1 } } }, 'modes.01.is must be one of'],
    [{ modes: { '01': { is: 'voltage', steps: 0 } } }, 'must not be 0'],
    [{ range: null }, 'steps are by range, and range is not given'],
    [{ value: { at: 5, digits: 0 } }, 'value.digits'],
    [{ value: { at: 5, type: 'u7' } }, 'value.type: "u7" is no type'],
    [{ mode: { at: 3, mask: 0 } }, 'mode.mask'],
  ])('%j is refused with its place', (change, message) => {
    expect(() => readReadingDialect({ ...framedReadings, ...change })).toThrow(message);
  });
});

describe('what it shows', () => {
  const volts = (value: number): MeterReading => ({ mode: 'voltage', value, ol: false, beeps: false, step: 0.001 });

  test('stands still after a while, in spite of a last digit that jumps', () => {
    const shown = new ShownReading();
    expect(shown.now(0)).toBeNull();
    for (let k = 0; k <= 5; k++) shown.took(volts(1.8 + 0.001 * (k % 2)), 0.15 * k);
    expect(shown.now(0.8)).toMatchObject({ isStable: true, mode: 'voltage' });
    shown.took(volts(3.3), 0.9);
    expect(shown.now(0.9)).toMatchObject({ isStable: false, value: 3.3 });
    shown.took({ mode: 'voltage', value: null, ol: true, beeps: false, step: null }, 1);
    expect(shown.now(1)).toMatchObject({ ol: true, isStable: false });
  });

  test('is forgotten when it falls silent, and when contact is lost', () => {
    const shown = new ShownReading();
    shown.took(volts(1.8), 0);
    expect(shown.now(1)).not.toBeNull();
    expect(shown.now(3)).toBeNull();
    shown.took(volts(1.8), 4);
    shown.forget();
    expect(shown.now(4)).toBeNull();
  });
});
