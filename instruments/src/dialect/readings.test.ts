import fc from 'fast-check';
import { decoderFor, readingReader, readReadingDialect, usualReadings, type MeterReading } from './index.ts';
import { ShownReading } from '../recorder/shown-reading.ts';

const read = readingReader(usualReadings);

test.each([
  ['DCV 3.302 V', { mode: 'voltage', value: 3.302, ol: false, beeps: false }],
  ['DCV -12.5 mV', { mode: 'voltage', value: -0.0125, ol: false, beeps: false }],
  ['OHM 4.700 kohm', { mode: 'resistance', value: 4700, ol: false, beeps: false }],
  ['OHM OL', { mode: 'resistance', value: null, ol: true, beeps: false }],
  ['DIODE 0.412 V', { mode: 'diode', value: 0.412, ol: false, beeps: false }],
  ['CONT 2.1 ohm', { mode: 'continuity', value: 2.1, ol: false, beeps: true }],
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
  [{ pattern: '(?<value>1+)+(?<unit>V)' }, 'a repetition inside a repetition'],
  [{ modes: { DCV: 'amps' } }, 'modes.DCV must be one of'],
  [{ units: { V: 0 } }, 'units.V must not be 0'],
  [{ overload: [] }, 'overload'],
])('%j is refused with its place', (change, message) => {
  expect(() => readReadingDialect({ ...usualReadings, ...change })).toThrow(message);
});

describe('what it shows', () => {
  const volts = (value: number): MeterReading => ({ mode: 'voltage', value, ol: false, beeps: false });

  test('stands still after a while, in spite of a last digit that jumps', () => {
    const shown = new ShownReading();
    expect(shown.now(0)).toBeNull();
    for (let k = 0; k <= 5; k++) shown.took(volts(1.8 + 0.001 * (k % 2)), 0.15 * k);
    expect(shown.now(0.8)).toMatchObject({ isStable: true, mode: 'voltage' });
    shown.took(volts(3.3), 0.9);
    expect(shown.now(0.9)).toMatchObject({ isStable: false, value: 3.3 });
    shown.took({ mode: 'voltage', value: null, ol: true, beeps: false }, 1);
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
